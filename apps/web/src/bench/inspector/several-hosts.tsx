import { putIntoVlan, setAutomatic, switchedPorts } from '@sobrin/core/editing';
import { type Command, type Settings, type Topology, modelOf } from '@sobrin/core/topology';
import { parseVlan } from '@sobrin/core/bench';
import { Button } from '@mui/material';
import { Row, TextInput } from '../../ui/fields';
import { Part } from '../../ui/sections';
import { useBench } from '../use-bench';
import { addressProblem, checkBy } from './checks';

/** What is set at all hosts among what is chosen: gateways, DNS, leases, and the VLAN of the switch ports that they are plugged into. */
export function SeveralHosts({ ids }: { ids: readonly string[] }) {
  const { document: topology, do: run } = useBench((state) => state);
  const hosts = ids.filter((id) => modelOf(topology, topology.devices[id]!)?.class === 'end');
  if (!hosts.length) return null;
  const setAll = (title: string, set: (settings: Settings) => Record<string, unknown>): void =>
    void run(
      title,
      ...hosts.map((device): Command => ({
        kind: 'setSettings',
        device,
        set: set(topology.devices[device]!.settings ?? {}),
      })),
    );
  /** What all have; null where they differ. */
  const common = (of: (settings: Settings) => string | undefined): string | null => {
    const [first, ...rest] = hosts.map((id) => of(topology.devices[id]!.settings ?? {}) ?? '');
    return rest.every((value) => value === first) ? first! : null;
  };
  const field = (
    label: string,
    spoken: string,
    value: string | null,
    set: (text: string, settings: Settings) => Record<string, unknown>,
  ) => (
    <Row label={label}>
      <TextInput
        label={`${spoken} of all of them`}
        mono
        value={value ?? ''}
        placeholder={value === null ? 'different ones' : ''}
        check={addressProblem}
        maxLength={64}
        onCommit={(text) => setAll(`set the ${spoken}`, (settings) => set(text, settings))}
      />
    </Row>
  );
  const plugged = portsBehind(topology, hosts);
  const vlans = [...plugged].flatMap(([device, ports]) => ports.map((port) => vlanAt(topology, device, port)));
  const vlan = vlans.every((each) => each === vlans[0]) ? String(vlans[0]) : null;
  const automatic = setAutomatic(topology, hosts);
  return (
    <Part title="Hosts" aside={`${hosts.length}`}>
      {field(
        'Gateway',
        'Gateway',
        common(({ gateway4 }) => gateway4),
        (text) => ({ gateway4: text || null }),
      )}
      {field(
        'IPv6 gateway',
        'IPv6 gateway',
        common(({ gateway6 }) => gateway6),
        (text) => ({ gateway6: text || null }),
      )}
      {field(
        'DNS',
        'DNS server',
        common(({ dns }) => dns?.[0]),
        (text, { dns }) => ({
          dns: text ? [text, ...(dns ?? []).slice(1)] : null,
        }),
      )}
      {vlans.length > 0 && (
        <Row label="VLAN">
          <TextInput
            label="VLAN of the ports they are plugged into"
            mono
            value={vlan ?? ''}
            placeholder={vlan === null ? 'different ones' : ''}
            check={checkBy(parseVlan)}
            onCommit={(text) => {
              const read = parseVlan(text);
              if (read.ok)
                void run(
                  'put into a VLAN',
                  ...[...plugged].flatMap(([device, ports]) => putIntoVlan(topology, device, ports, read.value, '')),
                );
            }}
          />
        </Row>
      )}
      {automatic.commands.length > 0 && (
        <Row label="Addresses">
          <Button
            size="small"
            variant="outlined"
            onClick={() => void run('address and gateway from a server', ...automatic.commands)}
          >
            Automatic for all of them
          </Button>
        </Row>
      )}
    </Part>
  );
}

/** The ports of switches that hosts are plugged into, by switch. */
function portsBehind(topology: Topology, hosts: readonly string[]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const { a, b } of Object.values(topology.links))
    for (const [mine, other] of [
      [a, b],
      [b, a],
    ] as const)
      if (hosts.includes(mine.device) && switchedPorts(topology, other.device).includes(other.port))
        found.set(other.device, [...(found.get(other.device) ?? []), other.port]);
  return found;
}

function vlanAt(topology: Topology, device: string, port: string): number {
  const role = topology.devices[device]!.ports?.[port]?.role;
  return role?.kind === 'switched' ? (role.accessVlan ?? 1) : 1;
}
