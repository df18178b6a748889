import {
  type Family,
  contains,
  formatInterfaceAddress,
  formatPrefix,
  parseInterfaceAddress,
  subnetOf,
} from '../address';
import { type Instance, type NetworkModel, instanceId } from '../engine';
import { type Command, type Interface, entryOf } from '../topology';
import { NextAddresses } from './next-addresses';

/** Something that one has otherwise than those beside it, with what makes it as theirs. */
export interface SiblingRepair {
  /** Which thing of the drawing. */
  readonly thing: string;
  /** What sort of thing, alike for all drawings. */
  readonly sort: string;
  readonly places: readonly { readonly device: string; readonly port?: string }[];
  /** What it has, and what the others have, as a sentence. */
  readonly text: string;
  readonly at: string;
  readonly field: string;
  readonly repair: readonly string[];
  /** Equal for the same mistake at several; null for what is none of that sort. */
  readonly alike: string | null;
  readonly commands: readonly Command[];
  /** Whether it lets more through than before. */
  readonly opens?: true;
}

/** Fewer have no say over one of theirs. */
const LEAST_AGREEING = 2;

/**
 * What hosts that hang on one switch, and are of one kind, have alike but for a few: the others' subnet, gateway, way of
 * being addressed and VLAN. Where a reference says what they should have it is asked instead.
 */
export function siblingRepairs(model: NetworkModel): SiblingRepair[] {
  const families = new Map<string, { instance: Instance; port: { switch: Instance; key: string } }[]>();
  for (const { a, b } of Object.values(model.topology.links))
    for (const [end, other] of [
      [a, b],
      [b, a],
    ] as const) {
      const [instance, near] = [model.instances.get(instanceId(end)), model.instances.get(instanceId(other))];
      if (instance?.model.class !== 'end' || near?.model.bridges !== 'vlan') continue;
      const key = `${near.id} ${instance.model.kind}`;
      families.set(key, [...(families.get(key) ?? []), { instance, port: { switch: near, key: other.port } }]);
    }
  // What is proposed is in use for the next one: two that are put right are no duplicates of one another.
  const free = new NextAddresses(model.topology, undefined);
  return [...families.values()].flatMap((all) => {
    const hosts = all.map(({ instance }) => instance);
    return [
      ...subnets(hosts, 4, free),
      ...subnets(hosts, 6, free),
      ...gateways(hosts, 'gateway4'),
      ...gateways(hosts, 'gateway6'),
      ...vlans(all),
    ];
  });
}

/** The value that most have, and who has another one; null where too few agree. */
function outliers<T>(all: readonly T[], valueOf: (each: T) => string | null): { most: string; others: T[] } | null {
  const count = new Map<string, number>();
  for (const each of all) {
    const value = valueOf(each);
    if (value !== null) count.set(value, (count.get(value) ?? 0) + 1);
  }
  const [first] = [...count].sort(([x, a], [y, b]) => b - a || (x < y ? -1 : 1));
  if (!first || first[1] < LEAST_AGREEING || first[1] * 2 <= all.length) return null;
  return { most: first[0], others: all.filter((each) => valueOf(each) !== first[0]) };
}

const typed = ({ interfaces }: Instance, family: Family): { key: string; settings: Interface; text: string } | null => {
  for (const [key, settings] of interfaces) {
    const text = (family === 4 ? settings.v4 : settings.v6)?.addresses?.[0];
    if (text !== undefined) return { key, settings, text };
  }
  return null;
};
const subnetText = (instance: Instance, family: Family): string | null => {
  const read = parseInterfaceAddress(typed(instance, family)?.text ?? '');
  return read.ok ? formatPrefix(subnetOf(read.value)) : null;
};

function subnets(hosts: readonly Instance[], family: Family, free: NextAddresses): SiblingRepair[] {
  const found = outliers(hosts, (host) => subnetText(host, family));
  if (!found) return [];
  const agreeing = hosts.flatMap((host) => {
    const read = parseInterfaceAddress(typed(host, family)?.text ?? '');
    return read.ok && subnetText(host, family) === found.most ? read.value : [];
  });
  const subnet = subnetOf(agreeing[0]!);
  return found.others.flatMap((host): SiblingRepair[] => {
    const own = typed(host, family);
    if (!own) return [];
    const read = parseInterfaceAddress(own.text);
    const isInside = read.ok && contains(subnet, read.value.address);
    const text = isInside
      ? formatInterfaceAddress({ address: read.value.address, length: subnet.length })
      : free.take(subnet);
    if (text === null) return [];
    const layer = family === 4 ? 'v4' : 'v6';
    return [
      {
        ...placed(host, own.key),
        thing: JSON.stringify(['devices', host.deviceId, host.member, 'interfaces', own.key, layer]),
        sort: `interfaces ${layer}`,
        commands: [
          editing({
            path: pathTo(host, own.key, layer),
            value: [text, ...(own.settings[layer]!.addresses ?? []).slice(1)],
          }),
        ],
        text: `${host.name} has ${own.text}; the others beside it are in ${found.most}.`,
        at: host.name,
        field: 'its address',
        repair: [`${host.name}: ${text}`],
        alike: null,
      },
    ];
  });
}
const pathTo = ({ deviceId, member, device }: Instance, key: string, layer: 'v4' | 'v6'): string[] => [
  'devices',
  deviceId,
  ...(member !== null && entryOf(device.members?.[member]?.interfaces, key) ? ['members', member] : []),
  'interfaces',
  key,
  layer,
  'addresses',
];

function gateways(hosts: readonly Instance[], property: 'gateway4' | 'gateway6'): SiblingRepair[] {
  const found = outliers(hosts, ({ settings }) => settings[property] ?? null);
  if (!found) return [];
  return found.others.map((host): SiblingRepair => ({
    ...placed(host),
    thing: JSON.stringify(['devices', host.deviceId, 'settings', property]),
    sort: `settings ${property}`,
    commands: [editing({ path: ['devices', host.deviceId, 'settings', property], value: found.most })],
    text: `${host.name} has ${host.settings[property] === undefined ? 'no gateway' : `the gateway ${host.settings[property]}`}; the others beside it have ${found.most}.`,
    at: host.name,
    field: 'the gateway',
    repair: [`${host.name}: gateway ${found.most}`],
    alike: JSON.stringify(['siblings', property, host.settings[property] ?? null, found.most]),
  }));
}

function vlans(all: readonly { instance: Instance; port: { switch: Instance; key: string } }[]): SiblingRepair[] {
  const vlanOf = ({ port }: (typeof all)[number]): string | null => {
    const role = port.switch.ports.get(port.key)?.config.role;
    if (role?.kind === 'routed' || (role?.kind === 'switched' && role.mode === 'trunk')) return null;
    return String(role?.accessVlan ?? 1);
  };
  const found = outliers(all, vlanOf);
  if (!found) return [];
  return found.others.flatMap((each): SiblingRepair[] => {
    const { instance, port } = each;
    const now = vlanOf(each);
    if (now === null) return [];
    const role = port.switch.ports.get(port.key)?.config.role;
    const value = {
      kind: 'switched',
      mode: 'access',
      ...(role?.kind === 'switched' && role),
      accessVlan: Number(found.most),
    };
    return [
      {
        ...placed(port.switch, port.key),
        thing: JSON.stringify(['devices', port.switch.deviceId, 'ports', port.key, 'role']),
        sort: 'ports role',
        commands: [editing({ path: ['devices', port.switch.deviceId, 'ports', port.key, 'role'], value })],
        text: `${port.switch.name}, port ${port.key} (${instance.name}) is in VLAN ${now}; the others of its sort are in VLAN ${found.most}.`,
        at: `${port.switch.name} ${port.key}`,
        field: 'its VLAN',
        repair: [`${port.switch.name}, port ${port.key}: VLAN ${found.most}`],
        alike: JSON.stringify(['siblings', 'vlan', now, found.most]),
      },
    ];
  });
}

const placed = (instance: Instance, port?: string) => ({
  places: [{ device: instance.id, ...(port !== undefined && { port }) }],
});
const editing = (edit: { path: string[]; value: unknown }): Command => ({ kind: 'edits', edits: [edit] });
