import { Box, Typography } from '@mui/material';
import { findModels } from '@sobrin/core/bench';
import { tagOf } from '@sobrin/core/drawing';
import { changeModel, countOf, rename, setCount, setModule, setPortCount } from '@sobrin/core/editing';
import { type Policy } from '@sobrin/core/spec';
import { type Command, MODULES, MOST_WIRED_PORTS, kitIdOf, modelOf, wiredDevice } from '@sobrin/core/topology';
import { GLYPHS } from '../../drawing/glyphs';
import { Choice, Row, TextInput } from '../../ui/fields';
import { type Facts } from '../../workers/facts';
import { useAddressSuggestions, usePlanOfLab } from '../plan-of-lab';
import { useBench } from '../use-bench';
import { Heading, Part } from '../../ui/sections';
import { RemoveButton } from './remove-button';
import { PortsPart } from './ports-part';
import { addressProblem, numberFrom } from './checks';
import { FiltersPart } from './filters-part';
import { InterfacesPart } from './interfaces-part';
import { ManagementPart } from './management-part';
import { NatPart } from './nat-part';
import { RoutingParts } from './routing-parts';
import { ServiceParts } from './service-parts';
import { siteChoices } from './site-choices';
import { SwitchingParts } from './switching-parts';
import { TelephonePart } from './telephone-part';
import { TintChoice } from './tint-choice';
import { WirelessPart } from './wireless-parts';
import { ZonesPart } from './zones-part';

type DeviceChange = Extract<Command, { kind: 'setDevice' }>['set'];

export function DeviceInspector({
  id,
  facts,
  showsEngine,
  modules,
}: {
  id: string;
  facts: Facts;
  showsEngine: boolean;
  /** When modules may be changed; absent for at any time. */
  modules?: Policy['modules'];
}) {
  const { document: topology, do: run } = useBench((state) => state);
  const offers = useAddressSuggestions(id);
  const plan = usePlanOfLab();
  const device = topology.devices[id];
  const model = device && modelOf(topology, device);
  if (!device || !model) return null;
  const Glyph = GLYPHS[model.kind];
  /** A size of the plain wired device, which stands in the drawing. */
  const isSized = (value: string): boolean => kitIdOf(topology, value) !== value;
  const isWired = kitIdOf(topology, device.model) === wiredDevice(1).id;
  const setting = (title: string, set: Record<string, unknown>): void =>
    void run(title, { kind: 'setSettings', device: id, set });
  const change = (title: string, set: DeviceChange): void => void run(title, { kind: 'setDevice', id, set });
  const isHost = model.class === 'end';
  const isPassive = model.class === 'passive';
  const isNetwork = !isHost && !isPassive;
  const count = countOf(device);
  return (
    <>
      <Heading
        title={device.name || 'Without a name'}
        under={`${model.name}${count > 1 ? ` ×${count}` : ''} · ${tagOf(model.kind)}`}
      >
        <Box
          sx={{
            width: 40,
            height: 40,
            flex: 'none',
            borderRadius: '10px',
            border: '1.5px solid var(--spruce)',
            background: 'var(--spruce-tint)',
            display: 'grid',
            placeItems: 'center',
          }}
        >
          <Glyph size={22} stroke={1.6} aria-hidden />
        </Box>
      </Heading>
      <Row label="Name">
        <TextInput
          label="Name"
          id="device-name"
          value={device.name}
          maxLength={80}
          onCommit={(name) => run('rename', ...rename(topology, id, name))}
        />
      </Row>
      {isNetwork && (
        <Row label="Hostname">
          <TextInput
            label="Hostname"
            value={device.settings?.hostname ?? ''}
            maxLength={80}
            onCommit={(text) => setting('set the hostname', { hostname: text || null })}
          />
        </Row>
      )}
      <Row label="Model">
        <Choice
          label="Model"
          value={device.model}
          options={findModels(topology, '')
            .filter(([value, other]) => other.class === model.class && (value === device.model || !isSized(value)))
            .map(([value, { name }]) => ({ value, text: name }))}
          onChange={(value) => run('change the model', ...changeModel(topology, id, value))}
        />
      </Row>
      {isWired && (
        <Row label="Ports">
          <TextInput
            label="Number of ports"
            mono
            strict
            value={String(model.ports.length)}
            check={numberFrom(1, MOST_WIRED_PORTS, 'How many ports it has')}
            onCommit={(text) => run('change the number of ports', ...setPortCount(topology, id, Number(text)))}
          />
        </Row>
      )}
      {isHost && (
        <Row label="How many">
          <TextInput
            label="How many like hosts"
            mono
            strict
            value={String(count)}
            check={countProblem}
            onCommit={(text) => run('change the number of hosts', ...setCount(topology, id, Number(text), plan))}
          />
        </Row>
      )}
      <Row label="Site">
        <Choice
          label="Site"
          value={device.site ?? ''}
          options={[{ value: '', text: 'none' }, ...siteChoices(topology)]}
          onChange={(site) => change('move to a site', { site: site || null })}
        />
      </Row>
      {!isPassive && (
        <Row label="Power">
          <Choice
            label="Power"
            value={device.powered === false ? 'off' : device.powered === true ? 'own' : 'on'}
            options={[
              { value: 'on', text: 'on' },
              ...(isPoe(model.ports) ? [{ value: 'own' as const, text: 'on, with its own supply' }] : []),
              { value: 'off', text: 'off' },
            ]}
            onChange={(value) => change('switch power', { powered: value === 'on' ? null : value === 'own' })}
          />
        </Row>
      )}
      <Row label="Texts">
        <Choice
          label="Where its name stands"
          value={device.label?.side ?? ''}
          options={[
            { value: '', text: isHost ? 'below' : 'inside' },
            ...(['top', 'right', 'bottom', 'left'] as const).map((value) => ({ value, text: SIDES[value] })),
          ]}
          onChange={(side) => {
            const { side: _side, ...label } = device.label ?? {};
            const next = { ...label, ...(side && { side }) };
            change('place a name', { label: Object.keys(next).length ? next : null });
          }}
        />
      </Row>
      <Row label="Tint">
        <TintChoice label="Tint" now={device.tint} onChange={(tint) => change('tint a device', { tint })} />
      </Row>
      <Row label="Arranging">
        <Choice
          label="When the drawing is arranged"
          value={device.pinned ? 'pinned' : 'free'}
          options={[
            { value: 'free', text: 'moves with the others' },
            { value: 'pinned', text: 'stays where it is' },
          ]}
          onChange={(value) => change('pin a device', { pinned: value === 'pinned' ? true : null })}
        />
      </Row>
      {model.bays && (
        <Part title="Modules">
          {Object.entries(model.bays).map(([bay, { accepts }]) => (
            <Row key={bay} label={bay} narrow>
              <Choice
                label={`Module in ${bay}`}
                value={device.modules?.[bay] ?? ''}
                options={[
                  { value: '', text: 'empty' },
                  ...accepts.map((value) => ({ value, text: MODULES[value]?.name ?? value })),
                ]}
                disabled={modules === 'power-off' && device.powered !== false}
                onChange={(module) => run('change a module', ...setModule(topology, id, bay, module || null))}
              />
            </Row>
          ))}
          {modules === 'power-off' && device.powered !== false && (
            <Typography variant="body2" color="text.secondary">
              Switch the power off first: in this lab modules are changed only then.
            </Typography>
          )}
        </Part>
      )}
      <PortsPart id={id} device={device} facts={facts} showsEngine={showsEngine} />
      {isHost && (
        <Part title="Addressing">
          <Row label="Gateway">
            <TextInput
              label="Gateway"
              mono
              value={device.settings?.gateway4 ?? ''}
              suggestions={offers.gateways4}
              check={addressProblem}
              maxLength={64}
              onCommit={(text) => setting('set the gateway', { gateway4: text || null })}
            />
          </Row>
          <Row label="IPv6 gateway">
            <TextInput
              label="IPv6 gateway"
              mono
              value={device.settings?.gateway6 ?? ''}
              suggestions={offers.gateways6}
              check={addressProblem}
              maxLength={64}
              onCommit={(text) => setting('set the IPv6 gateway', { gateway6: text || null })}
            />
          </Row>
          <Row label="DNS">
            <TextInput
              label="DNS server"
              mono
              value={device.settings?.dns?.[0] ?? ''}
              check={addressProblem}
              maxLength={64}
              onCommit={(text) =>
                setting('set the DNS server', { dns: text ? [text, ...(device.settings?.dns ?? []).slice(1)] : null })
              }
            />
          </Row>
        </Part>
      )}
      {model.kind === 'phone' && count === 1 && <TelephonePart id={id} device={device} />}
      {!isHost && model.bridges !== 'hub' && device.members === undefined && <InterfacesPart id={id} device={device} />}
      {model.bridges === 'vlan' && <SwitchingParts id={id} device={device} />}
      {model.ports.some((port) => port.connector === 'radio' && port.many) && <WirelessPart id={id} device={device} />}
      {model.forwards && <RoutingParts id={id} device={device} />}
      {model.forwards && <FiltersPart id={id} device={device} />}
      {model.forwards && <ZonesPart id={id} device={device} />}
      {model.forwards && <NatPart id={id} device={device} />}
      {(model.forwards || model.kind === 'server') && <ServiceParts id={id} device={device} />}
      {isNetwork && model.bridges !== 'hub' && <ManagementPart id={id} device={device} />}
      {count > 1 && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
          This tile stands for {count} like devices; what is set here holds for all of them.
        </Typography>
      )}
      <RemoveButton what={count > 1 ? 'all of them' : 'this device'} />
    </>
  );
}

const SIDES = { top: 'above', right: 'at the right', bottom: 'below', left: 'at the left' } as const;

const countProblem = (text: string): string | null =>
  /^[1-9]\d{0,2}$/.test(text) ? null : 'A tile stands for 1 to 999 like hosts.';
const isPoe = (ports: readonly { poe?: string }[]): boolean => ports.some((port) => port.poe === 'sink');
