import { firstAddressText } from '../../drawing';
import { fail } from '../../result';
import { type Topology, entriesById, isSwitched, modelOf, portsOf } from '../../topology';
import { rename, setAddress } from '../../editing';
import { type Sheet, NAME, devicesByName, device, written, plugged, setting, yesOrNo } from './sheet';

const addressedPort = (topology: Topology, id: string): string | undefined => {
  const ports = portsOf(topology, topology.devices[id]!).filter(
    (port) => port.connector !== 'console' && !isSwitched(topology, topology.devices[id]!, port),
  );
  const faced = ports.find((port) => topology.devices[id]!.interfaces?.[port.key]);
  return (faced ?? ports[0])?.key;
};

export const DEVICES: Sheet = {
  id: 'devices',
  title: 'Devices',
  count: (topology) => Object.keys(topology.devices).length,
  rows: (topology) => devicesByName(topology).map(([id]) => ({ key: id, device: id })),
  columns: [
    {
      ...NAME,
      key: 'name',
      label: 'Name',
      write: (topology, row, text) =>
        text.length > 80
          ? fail('A name has at most 80 characters.')
          : written(...rename(topology, row.device!, text.trim())),
    },
    {
      key: 'model',
      label: 'Model',
      width: 150,
      read: (topology, row) => {
        const { members } = device(topology, row);
        const name = modelOf(topology, device(topology, row))?.name ?? device(topology, row).model;
        return members ? `${name} ×${Object.keys(members).length}` : name;
      },
    },
    {
      key: 'site',
      label: 'Site',
      width: 120,
      read: (topology, row) => topology.sites[device(topology, row).site ?? '']?.name ?? '',
      choices: (topology) => ['', ...entriesById(topology.sites).map(([, site]) => site.name)],
      write: (topology, row, text) => {
        const wanted = text.trim().toLowerCase();
        const site = entriesById(topology.sites).find(([, { name }]) => name.toLowerCase() === wanted)?.[0];
        return wanted && site === undefined
          ? fail(`There is no site “${text.trim()}”.`)
          : written({ kind: 'setDevice', id: row.device!, set: { site: site ?? null } });
      },
    },
    {
      key: 'address',
      label: 'Address',
      width: 140,
      mono: true,
      read: (topology, row) => {
        const text = firstAddressText(device(topology, row));
        return (
          text ?? (Object.values(device(topology, row).interfaces ?? {}).some(({ v4 }) => v4?.dhcp) ? 'automatic' : '')
        );
      },
      write: (topology, row, text) => {
        const port = addressedPort(topology, row.device!);
        if (device(topology, row).members) return fail('A tile of several hosts has no address of its own.');
        return port === undefined
          ? fail(`${device(topology, row).name} has no port that carries an address.`)
          : written(setAddress(topology, row.device!, port, text.includes(':') ? 6 : 4, text.trim()));
      },
    },
    {
      key: 'gateway',
      label: 'Gateway',
      width: 120,
      mono: true,
      read: (topology, row) => device(topology, row).settings?.gateway4 ?? '',
      write: (_topology, row, text) => setting(row, { gateway4: text.trim() || null }),
    },
    {
      key: 'dns',
      label: 'DNS',
      width: 120,
      mono: true,
      read: (topology, row) => device(topology, row).settings?.dns?.join(', ') ?? '',
      write: (_topology, row, text) => {
        const servers = text.split(/[,\s]+/).filter(Boolean);
        return servers.length > 8 ? fail('At most 8 servers.') : setting(row, { dns: servers.length ? servers : null });
      },
    },
    {
      key: 'power',
      label: 'Power',
      width: 60,
      read: (topology, row) => (device(topology, row).powered === false ? 'off' : 'on'),
      choices: () => ['on', 'off'],
      write: (_topology, row, text) => {
        const on = yesOrNo(text);
        return on === null
          ? fail(`“${text}” is neither on nor off.`)
          : written({ kind: 'setDevice', id: row.device!, set: { powered: on ? null : false } });
      },
    },
    {
      key: 'links',
      label: 'Links',
      width: 54,
      mono: true,
      read: (topology, row) =>
        String(
          portsOf(topology, device(topology, row)).reduce(
            (sum, { key }) => sum + (plugged(topology).get(`${row.device} ${key}`)?.length ?? 0),
            0,
          ),
        ),
    },
  ],
};
