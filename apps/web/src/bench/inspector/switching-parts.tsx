import { formatVlans, parseVlan, parseVlans } from '@sobrin/core/bench';
import { changePort, changeRole, countUp, switchedRole } from '@sobrin/core/editing';
import { type Device, type PortConfig, type Settings, entriesById, filled, portsOf } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { type Column, ListPart } from '../../ui/list-part';
import { Fold } from '../../ui/sections';
import { usePlannedVlans } from '../plan-of-lab';
import { useBench } from '../use-bench';
import { checkBy } from './checks';
import { useSettings } from './use-settings';

type Bundle = NonNullable<Settings['bundles']>[string];

interface Vlan {
  number: string;
  name: string;
}
/** Numbers come from the plan as well, and with a number its name. */
const vlanColumns = (planned: ReadonlyMap<string, string>): readonly Column<Vlan>[] => [
  {
    label: 'number',
    width: '64px',
    mono: true,
    strict: true,
    check: checkBy(parseVlan),
    read: (vlan) => vlan.number,
    suggestions: [...planned.keys()],
    write: (vlan, number) => ({ number: number.trim(), name: vlan.name || (planned.get(number.trim()) ?? '') }),
  },
  {
    label: 'name',
    width: 'minmax(0, 1fr)',
    read: (vlan) => vlan.name,
    write: (vlan, name) => ({ ...vlan, name }),
  },
];

/** VLANs that exist on a switch, its bundles, and its part in the spanning tree. */
export function SwitchingParts({ id, device }: { id: string; device: Device }) {
  const topology = useBench((state) => state.document);
  const { settings, set } = useSettings(id, device);
  const planned = usePlannedVlans();
  const tree = settings.spanningTree ?? {};
  const setTree = (change: Partial<typeof tree>): void =>
    set('change the spanning tree', { spanningTree: filled({ ...tree, ...change }) });
  const priority = tree.priority ?? 32_768;
  return (
    <>
      <ListPart<Vlan>
        title="VLANs"
        entryName="VLAN"
        entries={Object.entries(settings.vlans ?? {}).map(([number, name]) => ({ number, name }))}
        blank={{ number: '', name: '' }}
        columns={vlanColumns(planned)}
        onStore={(list) =>
          set('change the VLANs', {
            vlans: Object.fromEntries(list.map(({ number, name }) => [String(Number(number)), name])),
          })
        }
      />
      <ListPart<{ key: string; ports: string; protocol: string }>
        title="Bundles"
        entryName="bundle"
        entries={entriesById(settings.bundles).map(([key, bundle]) => ({
          key,
          ports: bundle.members.join(', '),
          protocol: bundle.protocol,
        }))}
        blank={{ key: '', ports: '', protocol: 'active' }}
        onStore={(list) => {
          const taken = new Set(list.map((bundle) => bundle.key).filter(Boolean));
          const bundles = list.map(({ key, ports, protocol }): [string, Bundle] => [
            key || countUp('b0', taken),
            { members: ports.split(/[,\s]+/).filter(Boolean), protocol: protocol as 'active' },
          ]);
          set('change the bundles', { bundles: Object.fromEntries(bundles) });
        }}
        columns={[
          {
            label: 'ports',
            width: 'minmax(0, 1fr)',
            mono: true,
            placeholder: 'u1, u2',
            strict: true,
            check: (text) => {
              const keys = portsOf(topology, device).map((port) => port.key);
              const wrong = text.split(/[,\s]+/).find((part) => part && !keys.includes(part));
              return wrong === undefined ? null : `There is no port “${wrong}”.`;
            },
            read: (bundle) => bundle.ports,
            write: (bundle, ports) => ({ ...bundle, ports }),
          },
          {
            label: 'forming',
            width: '96px',
            choices: ['active', 'passive', 'static'].map((value) => ({ value, text: value })),
            read: (bundle) => bundle.protocol,
            write: (bundle, protocol) => ({ ...bundle, protocol }),
          },
        ]}
      />
      <Fold title="Spanning tree" aside={tree.on === false ? 'off' : `priority ${priority}`}>
        <Row label="Runs">
          <Choice
            label="Spanning tree"
            value={tree.on === false ? 'off' : 'on'}
            options={[
              { value: 'on', text: 'on' },
              { value: 'off', text: 'off' },
            ]}
            onChange={(value) => setTree({ on: value === 'off' ? false : undefined })}
          />
        </Row>
        <Row label="Priority">
          <Choice
            label="Bridge priority"
            value={String(priority)}
            options={Array.from({ length: 16 }, (_one, at) => String(at * 4096)).map((value) => ({
              value,
              text: value,
            }))}
            onChange={(value) => setTree({ priority: value === '32768' ? undefined : Number(value) })}
          />
        </Row>
      </Fold>
    </>
  );
}

/** What a switched port does: one VLAN, several tagged ones, or routing. */
export function RoleFields({ id, device, port }: { id: string; device: Device; port: string }) {
  const run = useBench((state) => state.do);
  const planned = usePlannedVlans();
  const role = device.ports?.[port]?.role;
  const switched = switchedRole(device, port);
  const kind = role?.kind === 'routed' ? 'routed' : switched.mode;
  const store = (role: PortConfig['role']): void => void run('change a port', changePort(id, port, { role }));
  const change = (more: Parameters<typeof changeRole>[3]): void =>
    void run('change a port', changeRole(device, id, port, more));
  const vlanField = (label: string, key: 'accessVlan' | 'voiceVlan' | 'native', blank: string) => (
    <Row label={label}>
      <TextInput
        label={`${label} of ${port}`}
        mono
        strict
        placeholder={blank}
        value={switched[key] === undefined ? '' : String(switched[key])}
        check={checkBy(parseVlan)}
        suggestions={[...planned.keys()]}
        onCommit={(text) => change({ [key]: text === '' ? undefined : Number(text) })}
      />
    </Row>
  );
  return (
    <>
      <Row label="Role">
        <Choice
          label={`Role of ${port}`}
          value={kind}
          options={[
            { value: 'access', text: 'access: one VLAN' },
            { value: 'trunk', text: 'trunk: several VLANs' },
            { value: 'routed', text: 'routed' },
          ]}
          onChange={(mode) => (mode === 'routed' ? store({ kind: 'routed' }) : change({ mode }))}
        />
      </Row>
      {kind === 'access' && vlanField('VLAN', 'accessVlan', '1')}
      {kind === 'access' && vlanField('Voice VLAN', 'voiceVlan', 'none')}
      {kind === 'trunk' && (
        <Row label="Carries">
          <TextInput
            label={`VLANs that ${port} carries`}
            mono
            strict
            placeholder="all"
            value={switched.allowed === undefined ? '' : formatVlans(switched.allowed)}
            check={checkBy(parseVlans)}
            onCommit={(text) => {
              const read = parseVlans(text);
              change({ allowed: text === '' || !read.ok ? undefined : read.value });
            }}
          />
        </Row>
      )}
      {kind === 'trunk' && vlanField('Native VLAN', 'native', '1')}
    </>
  );
}
