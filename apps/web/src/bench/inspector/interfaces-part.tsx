import { Box, Button, IconButton } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { parseVlan } from '@sobrin/core/bench';
import { type VirtualPlace, addVirtualInterface } from '@sobrin/core/editing';
import { type Device, type Interface, entriesById, isSwitched, modelOf, portsOf } from '@sobrin/core/topology';
import { type FormEvent, useState } from 'react';
import { Choice, Row, TextInput } from '../../ui/fields';
import { focusAdded } from '../../ui/focus/focus-added';
import { Fold } from '../../ui/sections';
import { useAddressSuggestions, usePlannedVlans } from '../plan-of-lab';
import { useBench } from '../use-bench';
import { checkBy, interfaceAddressProblem } from './checks';
import { InterfaceFields, useInterface } from './interface-fields';

type Virtual = VirtualPlace['kind'];
/** All of a line stands in its first row; what is wrong with a field of it comes below. */
const IN_ONE_LINE = { '& > *': { gridRow: 1 } };
/** The fields that a new interface of a kind has, in one line. */
const NEW_COLUMNS = {
  sub: 'minmax(0, 1fr) 64px 64px auto',
  svi: 'minmax(0, 1fr) 64px auto',
  loopback: 'minmax(0, 1fr) auto',
} as const satisfies Record<Virtual, string>;

/** Interfaces that are no port: sub-interfaces, VLAN interfaces, loopbacks. */
export function InterfacesPart({ id, device }: { id: string; device: Device }) {
  const { document: topology, do: run } = useBench((state) => state);
  const planned = usePlannedVlans();
  const model = modelOf(topology, device)!;
  const switchLike = model.bridges === 'vlan';
  const interfaces = entriesById(device.interfaces).filter(([, interfaceConfig]) => interfaceConfig.on.kind !== 'port');
  const ports = portsOf(topology, device)
    .filter((port) => port.connector !== 'console' && !isSwitched(topology, device, port))
    .map((port) => port.key);
  const kinds: Virtual[] = [
    ...(switchLike ? (['svi'] as const) : []),
    ...(model.forwards && ports.length ? (['sub'] as const) : []),
    ...(model.forwards ? (['loopback'] as const) : []),
  ];
  const [kind, setKind] = useState<Virtual>(kinds[0] ?? 'loopback');
  const [port, setPort] = useState(ports[0] ?? '');
  const [vlan, setVlan] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  if (!kinds.length && !interfaces.length) return null;
  const number = parseVlan(vlan);
  const on: VirtualPlace =
    kind === 'loopback' ? { kind } : kind === 'svi' ? { kind, vlan: Number(vlan) } : { kind, port, vlan: Number(vlan) };
  const added = kind === 'loopback' || number.ok ? addVirtualInterface(device, id, on) : null;
  const add = (): void => {
    if (!added || !run('add an interface', added.command)) return;
    setVlan('');
    setOpen(added.key);
  };
  return (
    <Fold
      title={switchLike ? 'VLAN interfaces' : 'Sub-interfaces'}
      aside={interfaces.length || 'none'}
      startOpen={interfaces.length > 0}
    >
      {interfaces.map(([name, interfaceConfig]) => (
        <FaceRow
          key={name}
          id={id}
          device={device}
          name={name}
          interfaceConfig={interfaceConfig}
          routes={model.forwards ?? false}
          open={open === name}
          onToggle={() => setOpen(open === name ? null : name)}
        />
      ))}
      {kinds.length > 0 && (
        <Box
          component="form"
          onSubmit={(event: FormEvent<HTMLFormElement>) => {
            event.preventDefault();
            focusAdded(event.currentTarget.parentElement!, add);
          }}
          sx={{
            display: 'grid',
            gridTemplateColumns: NEW_COLUMNS[kind],
            gap: '4px',
            mt: 0.5,
            alignItems: 'start',
            ...IN_ONE_LINE,
          }}
        >
          <Choice
            label="Kind of the new interface"
            value={kind}
            options={kinds.map((value) => ({
              value,
              text: { sub: 'sub-interface', svi: 'VLAN interface', loopback: 'loopback' }[value],
            }))}
            onChange={setKind}
          />
          {kind === 'sub' && (
            <Choice
              label="Port of the new interface"
              value={port}
              options={ports.map((value) => ({ value, text: value }))}
              onChange={setPort}
            />
          )}
          {kind !== 'loopback' && (
            <TextInput
              gridRow={1}
              label="VLAN of the new interface"
              mono
              placeholder="VLAN"
              value={vlan}
              check={checkBy(parseVlan)}
              suggestions={[...planned.keys()]}
              onDraft={setVlan}
              onCommit={setVlan}
            />
          )}
          <Button type="submit" size="small" disabled={added === null} sx={{ minWidth: 0 }}>
            Add
          </Button>
        </Box>
      )}
    </Fold>
  );
}

function FaceRow({
  id,
  device,
  name,
  interfaceConfig: interfaceConfig,
  routes,
  open,
  onToggle,
}: {
  id: string;
  device: Device;
  name: string;
  interfaceConfig: Interface;
  routes: boolean;
  open: boolean;
  onToggle: () => void;
}) {
  const run = useBench((state) => state.do);
  const { addresses } = useAddressSuggestions(id);
  const set = useInterface(id, name, interfaceConfig, true);
  return (
    <Box>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: '76px minmax(0, 1fr) auto 24px',
          gap: '4px',
          mb: '2px',
          ...IN_ONE_LINE,
        }}
      >
        <span className="mono" style={{ lineHeight: '28px', fontSize: 12.5 }}>
          {name}
        </span>
        <TextInput
          gridRow={1}
          label={`Address of ${name}`}
          mono
          placeholder="address/prefix"
          value={interfaceConfig.v4?.addresses?.[0] ?? ''}
          check={interfaceAddressProblem}
          suggestions={addresses.filter((address) => !address.includes(':'))}
          maxLength={64}
          onCommit={(text) =>
            set('set an address', {
              v4:
                text || interfaceConfig.v4?.addresses?.[1]
                  ? { addresses: [text, ...(interfaceConfig.v4?.addresses ?? []).slice(1)].filter(Boolean) }
                  : undefined,
            })
          }
        />
        <Button size="small" aria-expanded={open} onClick={onToggle} sx={{ minWidth: 0, minHeight: 0, px: 0.5 }}>
          {open ? 'less' : 'more'}
        </Button>
        <IconButton
          size="small"
          aria-label={`Remove ${name}`}
          onClick={() => run('remove an interface', { kind: 'setInterface', device: id, key: name, set: null })}
          sx={{ p: 0 }}
        >
          <IconX size={14} />
        </IconButton>
      </Box>
      {open && (
        <Box sx={{ pl: 2, pb: 1 }}>
          <Row label="Switched">
            <Choice
              label={`${name} is`}
              value={interfaceConfig.enabled === false ? 'off' : 'on'}
              options={[
                { value: 'on', text: 'on' },
                { value: 'off', text: 'off' },
              ]}
              onChange={(value) => set('switch an interface', { enabled: value === 'off' ? false : undefined })}
            />
          </Row>
          <InterfaceFields id={id} device={device} name={name} interfaceConfig={interfaceConfig} keep routes={routes} />
        </Box>
      )}
    </Box>
  );
}
