import { fail } from '../../result';
import { portInterface, setAddress, changePort } from '../../editing';
import { type Interface, type PortConfig, type Topology, isSwitched, modelOf, portsOf } from '../../topology';
import { formatVlans, parseVlan, parseVlans } from '../notation';
import {
  type Sheet,
  type SheetRow,
  type Written,
  NAME,
  devicesByName,
  device,
  written,
  plugged,
  yesOrNo,
} from './sheet';

const interfaceConfig = (topology: Topology, row: SheetRow): [string, Interface] =>
  portInterface(device(topology, row), row.part!);
export const PORTS: Sheet = {
  id: 'ports',
  title: 'Ports',
  rows: (topology) =>
    devicesByName(topology).flatMap(([id, each]) =>
      portsOf(topology, each).map(({ key }) => ({ key: `${id} ${key}`, device: id, part: key })),
    ),
  count: (topology) => Object.values(topology.devices).reduce((sum, each) => sum + portsOf(topology, each).length, 0),
  columns: [
    NAME,
    { key: 'port', label: 'Port', width: 64, mono: true, read: (_topology, row) => row.part! },
    {
      key: 'label',
      label: 'Label',
      width: 80,
      mono: true,
      read: (topology, row) => device(topology, row).ports?.[row.part!]?.label ?? '',
      write: (_topology, row, text) =>
        text.length > 80
          ? fail('A label has at most 80 characters.')
          : written(changePort(row.device!, row.part!, { label: text.trim() || undefined })),
    },
    {
      key: 'to',
      label: 'Connected to',
      width: 140,
      read: (topology, row) => plugged(topology).get(`${row.device} ${row.part}`)?.join(', ') ?? '',
    },
    {
      key: 'on',
      label: 'Switched',
      width: 84,
      read: (topology, row) => (device(topology, row).ports?.[row.part!]?.enabled === false ? 'off' : 'on'),
      choices: () => ['on', 'off'],
      write: (_topology, row, text) => {
        const on = yesOrNo(text);
        return on === null
          ? fail(`“${text}” is neither on nor off.`)
          : written(changePort(row.device!, row.part!, { enabled: on ? undefined : false }));
      },
    },
    {
      key: 'role',
      label: 'VLANs',
      width: 130,
      mono: true,
      read: roleText,
      write: writeRole,
    },
    {
      key: 'address',
      label: 'Address',
      width: 150,
      mono: true,
      read: (topology, row) => {
        const [, { v4, v6 }] = interfaceConfig(topology, row);
        return v4?.dhcp ? 'automatic' : (v4?.addresses?.[0] ?? v6?.addresses?.[0] ?? '');
      },
      write: (topology, row, text) => {
        const port = portsOf(topology, device(topology, row)).find(({ key }) => key === row.part)!;
        if (port.connector === 'console' || isSwitched(topology, device(topology, row), port))
          return fail(`${device(topology, row).name} ${row.part} carries no address: it is a switched port.`);
        return written(setAddress(topology, row.device!, row.part!, text.includes(':') ? 6 : 4, text.trim()));
      },
    },
  ],
};

/** "20", "trunk all", "trunk 10, 20 native 99", "routed". */
function roleText(topology: Topology, row: SheetRow): string {
  const port = portsOf(topology, device(topology, row)).find(({ key }) => key === row.part);
  if (modelOf(topology, device(topology, row))?.bridges !== 'vlan' || !port?.switched) return '';
  const role = device(topology, row).ports?.[row.part!]?.role;
  if (role?.kind === 'routed') return 'routed';
  if (role?.mode !== 'trunk') return String(role?.accessVlan ?? 1);
  return `trunk ${formatVlans(role.allowed ?? 'all')}${role.native === undefined ? '' : ` native ${role.native}`}`;
}
function writeRole(topology: Topology, row: SheetRow, text: string): Written {
  if (roleText(topology, row) === '') return fail(`${device(topology, row).name} ${row.part} is no switched port.`);
  const store = (role: PortConfig['role'] | undefined) => written(changePort(row.device!, row.part!, { role }));
  const plain = text.trim().toLowerCase();
  if (plain === '' || plain === '1') return store(undefined);
  if (plain === 'routed') return store({ kind: 'routed' });
  const [, list, native] = /^trunk\s*(.*?)(?:\s*native\s*(\d+))?$/.exec(plain) ?? [];
  if (list === undefined) {
    const vlan = parseVlan(plain.replace(/^access\s*/, ''));
    return vlan.ok ? store({ kind: 'switched', mode: 'access', accessVlan: vlan.value }) : vlan;
  }
  const allowed = parseVlans(list || 'all');
  if (!allowed.ok) return allowed;
  const own = native === undefined ? null : parseVlan(native);
  if (own && !own.ok) return own;
  return store({
    kind: 'switched',
    mode: 'trunk',
    ...(allowed.value !== 'all' && { allowed: allowed.value }),
    ...(own?.ok && { native: own.value }),
  });
}
