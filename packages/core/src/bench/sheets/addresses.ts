import { formatPrefix, parseInterfaceAddress, subnetOf } from '../../address';
import { changeInterface } from '../../editing';
import { type Command, type Interface, type Topology, entriesById, entryOf } from '../../topology';
import { type Sheet, type SheetRow, devicesByName, device, written, setting } from './sheet';

/** Addresses of devices and of the members of tiles, written by one. A row's part is "interface family index member". */
export const ADDRESSES: Sheet = {
  id: 'addresses',
  title: 'Addresses',
  count: (topology) =>
    Object.values(topology.devices).reduce(
      (sum, { interfaces, members }) =>
        sum +
        [interfaces, ...Object.values(members ?? {}).map((member) => member.interfaces)].reduce(
          (all, interfaces) => all + addressCount(interfaces),
          0,
        ),
      0,
    ),
  rows: (topology) =>
    devicesByName(topology).flatMap(([id, each]) => [
      ...rowsOf(id, each.interfaces),
      ...entriesById(each.members).flatMap(([member, { interfaces }]) => rowsOf(id, interfaces, member)),
    ]),
  columns: [
    {
      key: 'device',
      label: 'Device',
      width: 120,
      read: (topology, row) => {
        const { member } = layerOf(topology, row);
        const { name, members } = device(topology, row);
        if (member === undefined) return name;
        return entryOf(members, member)?.name ?? `${name} ${member.replace(/^m(?=\d+$)/, '#')}`;
      },
    },
    { key: 'interface', label: 'Interface', width: 90, mono: true, read: (_topology, row) => row.part!.split(' ')[0]! },
    {
      key: 'address',
      label: 'Address',
      width: 190,
      mono: true,
      read: (topology, row) => layerOf(topology, row).texts[layerOf(topology, row).at] ?? '',
      write: (topology, row, text) => {
        const { key, now, family, texts, at, member } = layerOf(topology, row);
        const addresses = texts.flatMap((old, index) => (index === at ? (text.trim() ? [text.trim()] : []) : [old]));
        const layer = { ...(family === 4 ? now.v4 : now.v6), addresses };
        const change = { [family === 4 ? 'v4' : 'v6']: addresses.length ? layer : undefined };
        if (member === undefined) return written(changeInterface(topology, row.device!, key, now, change, true));
        const set = Object.entries({ ...now, ...change }).filter(([, value]) => value !== undefined);
        return written(setMember(topology, row.device!, member, key, Object.fromEntries(set) as Interface));
      },
    },
    {
      key: 'subnet',
      label: 'Subnet',
      width: 170,
      mono: true,
      read: (topology, row) => {
        const { texts, at } = layerOf(topology, row);
        const read = parseInterfaceAddress(texts[at] ?? '');
        return read.ok ? formatPrefix(subnetOf(read.value)) : '';
      },
    },
    {
      key: 'gateway',
      label: 'Gateway',
      width: 140,
      mono: true,
      read: (topology, row) =>
        (layerOf(topology, row).family === 4
          ? device(topology, row).settings?.gateway4
          : device(topology, row).settings?.gateway6) ?? '',
      write: (topology, row, text) =>
        setting(row, { [layerOf(topology, row).family === 4 ? 'gateway4' : 'gateway6']: text.trim() || null }),
    },
  ],
};

const addressCount = (interfaces: Readonly<Record<string, Interface>> | undefined): number =>
  Object.values(interfaces ?? {}).reduce(
    (sum, { v4, v6 }) => sum + (v4?.addresses?.length ?? 0) + (v6?.addresses?.length ?? 0),
    0,
  );

const rowsOf = (id: string, interfaces: Readonly<Record<string, Interface>> | undefined, member?: string): SheetRow[] =>
  entriesById(interfaces).flatMap(([key, { v4, v6 }]) =>
    [
      ...(v4?.addresses ?? []).map((_text, at) => `4 ${at}`),
      ...(v6?.addresses ?? []).map((_text, at) => `6 ${at}`),
    ].map((which) => {
      const part = [key, which, ...(member === undefined ? [] : [member])].join(' ');
      return { key: `${id} ${part}`, device: id, part };
    }),
  );

/** An interface of one member of a tile; what it shares with the others stays. */
function setMember(topology: Topology, id: string, member: string, key: string, interfaceConfig: Interface): Command {
  const { members = {} } = topology.devices[id]!;
  const now = members[member] ?? {};
  return {
    kind: 'setDevice',
    id,
    set: { members: { ...members, [member]: { ...now, interfaces: { ...now.interfaces, [key]: interfaceConfig } } } },
  };
}

function layerOf(topology: Topology, row: SheetRow) {
  const [key, family, at, member] = row.part!.split(' ') as [string, string, string, string | undefined];
  const { interfaces, members } = device(topology, row);
  const layer = member === undefined ? interfaces : entryOf(members, member)?.interfaces;
  const now: Interface = layer?.[key] ?? { on: { kind: 'port', port: key } };
  const texts = (family === '4' ? now.v4?.addresses : now.v6?.addresses) ?? [];
  return { key, now, family: Number(family) as 4 | 6, texts, at: Number(at), member };
}
