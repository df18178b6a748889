import { fail } from '../../result';
import { type Sheet, NAME, devicesByName, device, setting } from './sheet';

export const VLANS: Sheet = {
  id: 'vlans',
  title: 'VLANs',
  rows: (topology) =>
    devicesByName(topology).flatMap(([id, each]) =>
      Object.keys(each.settings?.vlans ?? {})
        .sort((a, b) => Number(a) - Number(b))
        .map((vlan) => ({ key: `${id} ${vlan}`, device: id, part: vlan })),
    ),
  columns: [
    { key: 'vlan', label: 'VLAN', width: 60, mono: true, read: (_topology, row) => row.part! },
    { ...NAME, label: 'Switch' },
    {
      key: 'name',
      label: 'Name',
      width: 160,
      read: (topology, row) => device(topology, row).settings?.vlans?.[row.part!] ?? '',
      write: (topology, row, text) =>
        text.length > 80
          ? fail('A name has at most 80 characters.')
          : setting(row, { vlans: { ...device(topology, row).settings?.vlans, [row.part!]: text.trim() } }),
    },
    {
      key: 'access',
      label: 'Access ports',
      width: 160,
      mono: true,
      read: (topology, row) =>
        Object.entries(device(topology, row).ports ?? {})
          .filter(
            ([, { role }]) =>
              role?.kind === 'switched' && role.mode === 'access' && String(role.accessVlan) === row.part,
          )
          .map(([key]) => key)
          .join(', '),
    },
    {
      key: 'trunks',
      label: 'Carried by',
      width: 160,
      mono: true,
      read: (topology, row) =>
        Object.entries(device(topology, row).ports ?? {})
          .filter(
            ([, { role }]) =>
              role?.kind === 'switched' &&
              role.mode === 'trunk' &&
              (role.allowed === undefined || role.allowed === 'all' || role.allowed.includes(Number(row.part))),
          )
          .map(([key]) => key)
          .join(', '),
    },
  ],
};
