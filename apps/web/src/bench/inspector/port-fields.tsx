import { Box, Button } from '@mui/material';
import { parseMac } from '@sobrin/core/address';
import { changePort, portInterface } from '@sobrin/core/editing';
import { macOf } from '@sobrin/core/engine';
import {
  type Device,
  type Model,
  type PortConfig,
  type PortFacts,
  type Topology,
  filled,
  isSwitched,
  modelOf,
} from '@sobrin/core/topology';
import { useContext } from 'react';
import { Choice, Row, TextInput } from '../../ui/fields';
import { speedWords } from '../../ui/speed-words';
import { OpenTalk } from '../comments/open-talk';
import { useBench } from '../use-bench';
import { eachOf, macProblem, numberFrom, wordsOf } from './checks';
import { InterfaceFields } from './interface-fields';
import { RoleFields } from './switching-parts';
import { RadioFields } from './wireless-parts';

type Security = NonNullable<PortConfig['security']>;

/** Whether frames only pass by a port: at hubs and the like; of a phone, where a computer is plugged in behind it. */
const isRepeated = (model: Model | undefined, port: PortFacts): boolean =>
  model?.bridges === 'hub' && (model.class !== 'end' || model.ports[0]?.key !== port.key);

/** Whether a port itself carries an address. Members of a tile have theirs in the table of addresses. */
export const isAddressed = (topology: Topology, device: Device, port: PortFacts): boolean =>
  port.connector !== 'console' &&
  !isRepeated(modelOf(topology, device), port) &&
  !isSwitched(topology, device, port) &&
  device.members === undefined;

/** Everything that is set at a port. */
export function PortFields({
  id,
  device,
  port,
  offers,
}: {
  id: string;
  device: Device;
  port: PortFacts;
  /** Addresses that the plan has for the device. */
  offers: readonly string[];
}) {
  const { document: topology, do: run } = useBench((state) => state);
  const talk = useContext(OpenTalk);
  const config = device.ports?.[port.key] ?? {};
  const [key, interfaceConfig] = portInterface(device, port.key);
  const model = modelOf(topology, device);
  const addressed = isAddressed(topology, device, port);
  const set = (change: { [K in keyof PortConfig]?: PortConfig[K] | undefined }): void =>
    void run('change a port', changePort(id, port.key, change));
  const { security } = config;
  const secure = (change: { [K in keyof Security]?: Security[K] | undefined }): void => {
    const next = filled({ ...security, ...change });
    set({ security: next?.maxMacs === undefined && !next?.allowed ? { ...next, maxMacs: 1 } : next });
  };
  const talkButton = (
    <Button size="small" onClick={() => talk({ about: { kind: 'device', id, port: port.key } })}>
      Comment on this port
    </Button>
  );
  return (
    <Box sx={{ pl: '18px', pb: 1 }}>
      <Row label="Label">
        <TextInput
          label={`Label of ${port.key}`}
          mono
          value={config.label ?? ''}
          maxLength={80}
          onCommit={(text) => set({ label: text || undefined })}
        />
      </Row>
      {port.through !== undefined && (
        <Row label="Wired to">
          <span className="mono">{port.through}</span> at the {port.rear ? 'front' : 'rear'}
        </Row>
      )}
      {port.through !== undefined && talkButton}
      {port.through === undefined && (
        <>
          {addressed && (
            <InterfaceFields
              id={id}
              device={device}
              name={key}
              interfaceConfig={interfaceConfig}
              offers={offers.filter((offer) => offer.includes(':'))}
              routes={model?.forwards ?? false}
            />
          )}
          {model?.bridges === 'vlan' && port.switched && <RoleFields id={id} device={device} port={port.key} />}
          {port.connector === 'radio' && !port.many && (
            <RadioFields port={port.key} radio={config.radio} onChange={(radio) => set({ radio })} />
          )}
          <Row label="Switched">
            <Choice
              label={`${port.key} is`}
              value={config.enabled === false ? 'off' : 'on'}
              options={[
                { value: 'on', text: 'on' },
                { value: 'off', text: 'off' },
              ]}
              onChange={(value) => set({ enabled: value === 'off' ? false : undefined })}
            />
          </Row>
          {port.speeds.length > 1 && (
            <Row label="Speed">
              <Choice
                label={`Speed of ${port.key}`}
                value={String(config.speed ?? 'auto')}
                options={[
                  { value: 'auto', text: 'automatic' },
                  ...port.speeds.map((speed) => ({ value: String(speed), text: speedWords(speed) })),
                ]}
                onChange={(value) =>
                  set({
                    speed: value === 'auto' ? undefined : Number(value),
                    ...(value === 'auto' && { duplex: undefined }),
                  })
                }
              />
            </Row>
          )}
          {typeof config.speed === 'number' && (
            <Row label="Duplex">
              <Choice
                label={`Duplex of ${port.key}`}
                value={config.duplex ?? 'full'}
                options={[
                  { value: 'full', text: 'full' },
                  { value: 'half', text: 'half' },
                ]}
                onChange={(value) => set({ duplex: value })}
              />
            </Row>
          )}
          {port.connector === 'serial' && (
            <Row label="Clock">
              <Choice
                label={`Clock at ${port.key}`}
                value={config.clockEnd ? 'here' : 'other'}
                options={[
                  { value: 'other', text: 'from the other end' },
                  { value: 'here', text: 'given here' },
                ]}
                onChange={(value) => set({ clockEnd: value === 'here' ? true : undefined })}
              />
            </Row>
          )}
          {/* Ports of a bridge send nothing of their own: an address of theirs would be stored and mean nothing. */}
          {addressed && (
            <Row label="MAC">
              <TextInput
                label={`MAC address of ${port.key}`}
                mono
                strict
                placeholder={macOf(id, port.key)}
                value={config.mac ?? ''}
                check={macProblem}
                onCommit={(text) => {
                  const read = parseMac(text);
                  set({ mac: read.ok ? read.value : undefined });
                }}
              />
            </Row>
          )}
          {model?.bridges === 'vlan' && port.switched && port.connector !== 'radio' && (
            <>
              <Row label="Security">
                <Choice
                  label={`Who may speak at ${port.key}`}
                  value={security ? 'some' : 'all'}
                  options={[
                    { value: 'all', text: 'whoever is plugged in' },
                    { value: 'some', text: 'so many addresses' },
                  ]}
                  onChange={(value) => set({ security: value === 'some' ? { maxMacs: 1 } : undefined })}
                />
              </Row>
              {security && (
                <>
                  <Row label="How many">
                    <TextInput
                      label={`How many addresses ${port.key} lets in`}
                      mono
                      strict
                      placeholder="those listed"
                      value={security.maxMacs === undefined ? '' : String(security.maxMacs)}
                      check={numberFrom(0, 1024, 'How many addresses are let in')}
                      onCommit={(text) => secure({ maxMacs: text ? Number(text) : undefined })}
                    />
                  </Row>
                  <Row label="Listed">
                    <TextInput
                      label={`Addresses listed at ${port.key}`}
                      mono
                      strict
                      placeholder="MAC addresses"
                      maxLength={4000}
                      value={(security.allowed ?? []).join(', ')}
                      check={eachOf(macProblem)}
                      onCommit={(text) =>
                        secure({
                          allowed: wordsOf(text).flatMap((word) => {
                            const read = parseMac(word);
                            return read.ok ? [read.value] : [];
                          }),
                        })
                      }
                    />
                  </Row>
                  <Row label="Others">
                    <Choice
                      label={`When others speak at ${port.key}`}
                      value={security.onViolation ?? 'shutdown'}
                      options={[
                        { value: 'shutdown', text: 'shut the port' },
                        { value: 'restrict', text: 'are dropped and counted' },
                        { value: 'protect', text: 'are dropped' },
                      ]}
                      onChange={(value) => secure({ onViolation: value === 'shutdown' ? undefined : value })}
                    />
                  </Row>
                </>
              )}
            </>
          )}
          {talkButton}
        </>
      )}
    </Box>
  );
}
