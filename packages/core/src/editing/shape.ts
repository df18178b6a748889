import {
  type Command,
  type Device,
  type LinkEnd,
  type Topology,
  KIT,
  MODULES,
  entriesById,
  entryOf,
  kitIdOf,
  portOf,
  wiredDevice,
} from '../topology';
import { type PlanOfLab, NextAddresses } from './next-addresses';

const isEmpty = (value: object): boolean => Object.keys(value).length === 0;

/** What goes when a device becomes another one: links, settings and interfaces of ports that are not there any more. */
function leftBehind(topology: Topology, id: string, after: Device): Command[] {
  const before = topology.devices[id]!;
  const shaped: Topology = { ...topology, devices: { ...topology.devices, [id]: after } };
  const gone = (port: string): boolean =>
    portOf(topology, before, port) !== undefined && portOf(shaped, after, port) === undefined;
  const links = entriesById(topology.links)
    .filter(([, { a, b }]) => [a, b].some((end) => end.device === id && gone(end.port)))
    .map(([link]) => link);
  const ports = Object.keys(before.ports ?? {}).filter(gone);
  const interfaces = entriesById(before.interfaces)
    .filter(([, { on }]) => (on.kind === 'port' || on.kind === 'sub') && gone(on.port))
    .map(([key]) => key);
  return [
    ...(links.length ? [{ kind: 'disconnect' as const, ids: links }] : []),
    ...ports.map((port): Command => ({ kind: 'setPort', device: id, port, set: null })),
    ...interfaces.map((key): Command => ({ kind: 'setInterface', device: id, key, set: null })),
  ];
}

/** Puts a module into a bay, or takes it out. Links in its ports go with it, and so do their settings. */
export function setModule(topology: Topology, id: string, bay: string, module: string | null): Command[] {
  const device = topology.devices[id]!;
  const { [bay]: _old, ...others } = device.modules ?? {};
  const modules = module === null ? others : { ...others, [bay]: module };
  return [
    ...leftBehind(topology, id, { ...device, modules }),
    { kind: 'setDevice', id, set: { modules: isEmpty(modules) ? null : modules } },
  ];
}

/** Makes a device one of another model. What fits stays: links and settings of ports with the same keys, modules of like bays. */
export function changeModel(topology: Topology, id: string, model: string): Command[] {
  const device = topology.devices[id]!;
  const bays = (entryOf(KIT, model) ?? entryOf(topology.models, model))?.bays ?? {};
  const modules = Object.fromEntries(
    entriesById(device.modules).filter(
      ([bay, module]) => bays[bay]?.accepts.includes(module) && entryOf(MODULES, module),
    ),
  );
  return [
    ...leftBehind(topology, id, { ...device, model, modules }),
    { kind: 'setDevice', id, set: { model, modules: isEmpty(modules) ? null : modules } },
  ];
}

/** How many like hosts a tile stands for. */
export const countOf = (device: Device): number => (device.members ? Object.keys(device.members).length : 1);

/**
 * Makes a tile stand for so many like hosts. What was cabled and addressed stays with the first; the others get the next
 * free addresses of its subnets. Those that go take their links along, the last ones first.
 */
export function setCount(topology: Topology, id: string, count: number, plan?: PlanOfLab): Command[] {
  const device = topology.devices[id]!;
  const members = entriesById(device.members);
  const now = countOf(device);
  if (count === now || count < 1) return [];
  const keys = members.map(([key]) => key);
  const all = keys.length ? keys : ['m1'];
  const staying = all.slice(0, count);
  const fresh = Array.from({ length: 1000 }, (_one, at) => `m${at + 1}`).filter((key) => !all.includes(key));
  while (staying.length < count) staying.push(fresh.shift()!);
  const goneLinks: string[] = [];
  const replugged: Command[] = [];
  for (const [link, { a, b }] of entriesById(topology.links))
    for (const [side, end] of [
      ['a', a],
      ['b', b],
    ] as const) {
      if (end.device !== id) continue;
      const member = end.member ?? all[0]!;
      if (!staying.includes(member)) goneLinks.push(link);
      else if ((count === 1) !== (end.member === undefined))
        replugged.push({ kind: 'setLink', id: link, set: { [side]: endOf(end, count === 1 ? undefined : member) } });
    }
  const first = keys.length ? device.members![keys[0]!]!.interfaces : device.interfaces;
  const change: Command =
    count === 1
      ? { kind: 'setDevice', id, set: { members: null, ...(first && { interfaces: first }) } }
      : {
          kind: 'setDevice',
          id,
          set: {
            members: membersOf(topology, id, staying, first, plan),
            ...(!keys.length && device.interfaces && { interfaces: null }),
          },
        };
  return [...(goneLinks.length ? [{ kind: 'disconnect' as const, ids: goneLinks }] : []), ...replugged, change];
}

const endOf = ({ member: _member, ...end }: LinkEnd, member: string | undefined): LinkEnd =>
  member === undefined ? end : { ...end, member };

function membersOf(
  topology: Topology,
  id: string,
  keys: readonly string[],
  first: Device['interfaces'],
  plan: PlanOfLab | undefined,
): NonNullable<Device['members']> {
  const { members } = topology.devices[id]!;
  const free = new NextAddresses(topology, plan);
  return Object.fromEntries(
    keys.map((key, at) => {
      if (members?.[key]) return [key, members[key]];
      if (!first) return [key, {}];
      const own =
        at === 0
          ? first
          : Object.fromEntries(
              entriesById(first).map(([interfaceConfig, config]) => [interfaceConfig, free.renew(config)]),
            );
      return [key, { interfaces: own }];
    }),
  );
}

/** Gives a plain wired device so many ports; links in ports that go away go with them. The model that nothing is of any more goes, too. */
export function setPortCount(topology: Topology, id: string, count: number): Command[] {
  const { id: model, model: own } = wiredDevice(count);
  const { model: old } = topology.devices[id]!;
  if (old === model) return [];
  const isKnown = entryOf(KIT, model) ?? entryOf(topology.models, model);
  const shaped = isKnown ? topology : { ...topology, models: { ...topology.models, [model]: own } };
  const isLast = Object.entries(topology.devices).every(([other, device]) => other === id || device.model !== old);
  return [
    ...(isKnown ? [] : [{ kind: 'setModel' as const, id: model, set: own }]),
    ...changeModel(shaped, id, model),
    ...(isLast && kitIdOf(topology, old) !== old ? [{ kind: 'setModel' as const, id: old, set: null }] : []),
  ];
}
