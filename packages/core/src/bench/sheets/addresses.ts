import { formatPrefix, parseInterfaceAddress, subnetOf } from '../../address';
import { type Interface, type Topology, entriesById } from '../../topology';
import { type Sheet, type SheetRow, NAME, devicesByName, device, one, setting } from './sheet';

export const ADDRESSES: Sheet = {
  id: 'addresses',
  title: 'Addresses',
  rows: (topology) =>
    devicesByName(topology).flatMap(([id, each]) =>
      entriesById(each.interfaces).flatMap(([key, { v4, v6 }]) =>
        [
          ...(v4?.addresses ?? []).map((_text, at) => `4 ${at}`),
          ...(v6?.addresses ?? []).map((_text, at) => `6 ${at}`),
        ].map((which) => ({ key: `${id} ${key} ${which}`, device: id, part: `${key} ${which}` })),
      ),
    ),
  columns: [
    NAME,
    { key: 'interface', label: 'Interface', width: 90, mono: true, read: (_topology, row) => row.part!.split(' ')[0]! },
    {
      key: 'address',
      label: 'Address',
      width: 190,
      mono: true,
      read: (topology, row) => layerOf(topology, row).texts[layerOf(topology, row).at] ?? '',
      write: (topology, row, text) => {
        const { key, face: now, family, texts, at } = layerOf(topology, row);
        const addresses = texts.flatMap((old, index) => (index === at ? (text.trim() ? [text.trim()] : []) : [old]));
        const layer = { ...(family === 4 ? now.v4 : now.v6), addresses };
        const set = { ...now, [family === 4 ? 'v4' : 'v6']: addresses.length ? layer : undefined };
        return one({
          kind: 'setInterface',
          device: row.device!,
          key,
          set: Object.fromEntries(Object.entries(set).filter(([, value]) => value !== undefined)) as Interface,
        });
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
function layerOf(topology: Topology, row: SheetRow) {
  const [key, family, at] = row.part!.split(' ') as [string, string, string];
  const now = device(topology, row).interfaces?.[key] ?? { on: { kind: 'port', port: key } };
  const texts = (family === '4' ? now.v4?.addresses : now.v6?.addresses) ?? [];
  return { key, face: now, family: Number(family) as 4 | 6, texts, at: Number(at) };
}
