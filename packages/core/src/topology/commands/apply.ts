import { type Edit, type Planned, applying } from '../../changes';
import { fail, ok, type Result } from '../../result';
import { modelOf, portOf } from '../kit';
import { entriesById, entryOf } from '../../records';
import { type Comment, type LinkEnd, type Topology } from '../schema';
import { type SimpleCommand } from './schema';

type Planning = Result<Planned, string>;
const plan = (edits: Edit[], ...reads: string[][]): Planning => ok({ edits, reads });

const topologyCommands = applying<Topology, SimpleCommand>(planOf);
/** Applies a command to a drawing, which itself stays as it is. The error is a sentence. */
export const applyCommand = topologyCommands.applyOne;
/** All commands of a list or none of them: the first that does not go says why. */
export const applyBatch = topologyCommands.applyAll;

function planOf(topology: Topology, command: SimpleCommand): Planning {
  switch (command.kind) {
    case 'addDevice':
      return entryOf(topology.devices, command.id)
        ? fail(`There is a device "${command.id}" already.`)
        : modelOf(topology, command.device)
          ? plan([{ path: ['devices', command.id], value: command.device }])
          : fail(`There is no model "${command.device.model}".`);
    case 'removeDevices':
      return removeDevices(topology, command.ids);
    case 'setDevice':
      return changeProperties(
        topology,
        ['devices', command.id],
        command.set,
        `There is no device "${command.id}" any more.`,
      );
    case 'move':
      return moveDevices(topology, command.to);
    case 'connect':
      return connect(topology, command.id, command.link);
    case 'disconnect': {
      const missing = command.ids.find((id) => !entryOf(topology.links, id));
      return missing === undefined
        ? plan([
            ...command.ids.map((id) => ({ path: ['links', id] })),
            ...anchorEdits(topology, 'link', new Set(command.ids)),
          ])
        : fail(`There is no link "${missing}" any more.`);
    }
    case 'setLink':
      return changeProperties(
        topology,
        ['links', command.id],
        command.set,
        `There is no link "${command.id}" any more.`,
      );
    case 'setPort':
    case 'changePort': {
      const device = entryOf(topology.devices, command.device);
      if (!device) return fail(`There is no device "${command.device}" any more.`);
      if (!portOf(topology, device, command.port)) return fail(`"${device.name}" has no port "${command.port}".`);
      const path = ['devices', command.device, 'ports', command.port];
      const reads = ['devices', command.device];
      return command.kind === 'setPort'
        ? setEntry(path, command.set, reads)
        : plan(propertyEdits(path, command.set), reads);
    }
    case 'setInterface':
      return entryOf(topology.devices, command.device)
        ? setEntry(['devices', command.device, 'interfaces', command.key], command.set, ['devices', command.device])
        : fail(`There is no device "${command.device}" any more.`);
    case 'changeInterface': {
      const path = ['devices', command.device, 'interfaces', command.key];
      const device = entryOf(topology.devices, command.device);
      if (!device) return fail(`There is no device "${command.device}" any more.`);
      return entryOf(device.interfaces, command.key)
        ? plan(propertyEdits(path, command.set), path)
        : fail(`"${device.name}" has no interface "${command.key}" any more.`);
    }
    case 'setSettings': {
      if (!entryOf(topology.devices, command.device)) return fail(`There is no device "${command.device}" any more.`);
      return plan(propertyEdits(['devices', command.device, 'settings'], command.set), ['devices', command.device]);
    }
    case 'setSite':
      return command.set ? setEntry(['sites', command.id], command.set) : removeSite(topology, command.id);
    case 'setNote':
      return setEntry(['notes', command.id], command.set);
    case 'setPicture':
      return setEntry(['pictures', command.id], command.set);
    case 'changeSite':
      return changeProperties(topology, ['sites', command.id], command.set, 'The site is not there any more.');
    case 'changeNote':
      return changeProperties(topology, ['notes', command.id], command.set, 'The note is not there any more.');
    case 'changePicture':
      return changeProperties(topology, ['pictures', command.id], command.set, 'The picture is not there any more.');
    case 'setComment':
      return setEntry(['comments', command.id], command.set);
    case 'setModel':
      return setEntry(['models', command.id], command.set);
    case 'setDocument':
      return plan(propertyEdits([], command.set));
    case 'replace':
      return plan([{ path: [], value: command.topology }]);
    case 'edits':
      return plan(command.edits);
  }
}

const editOf = (path: string[], value: unknown): Edit =>
  value === null || value === undefined ? { path } : { path, value };
const setEntry = (path: string[], value: unknown, ...reads: string[][]): Planning =>
  plan([editOf(path, value)], ...reads);
const propertyEdits = (path: string[], set: object): Edit[] =>
  Object.entries(set).map(([key, value]) => editOf([...path, key], value));

function changeProperties(
  topology: Topology,
  path: ['devices' | 'links' | 'sites' | 'notes' | 'pictures', string],
  set: object,
  missing: string,
): Planning {
  return entryOf<unknown>(topology[path[0]], path[1]) ? plan(propertyEdits(path, set), path) : fail(missing);
}

/** Removing a device takes its links along; notes and comments anchored to it stay, without the anchor. */
function removeDevices(topology: Topology, ids: readonly string[]): Planning {
  const gone = new Set(ids);
  const missing = ids.find((id) => !entryOf(topology.devices, id));
  if (missing !== undefined) return fail(`There is no device "${missing}" any more.`);
  const links = entriesById(topology.links)
    .filter(([, link]) => gone.has(link.a.device) || gone.has(link.b.device))
    .map(([id]) => id);
  return plan([
    ...anchorEdits(topology, 'device', gone),
    ...anchorEdits(topology, 'link', new Set(links)),
    ...links.map((id) => ({ path: ['links', id] })),
    ...ids.map((id) => ({ path: ['devices', id] })),
  ]);
}

const anchorEdits = (topology: Topology, kind: 'device' | 'link' | 'site', gone: ReadonlySet<string>): Edit[] =>
  (['notes', 'comments'] as const).flatMap((map) =>
    entriesById<Pick<Comment, 'at'> & { anchor?: { kind: string; id: string } }>(topology[map])
      .filter(([, { anchor }]) => anchor?.kind === kind && gone.has(anchor.id))
      .flatMap(([id, { at, anchor }]): Edit[] => {
        const from = placeOf(topology, kind, anchor!.id);
        const stays = { x: Math.round((at?.x ?? 0) + from.x), y: Math.round((at?.y ?? 0) + from.y) };
        return [{ path: [map, id, 'anchor'] }, { path: [map, id, 'at'], value: stays }];
      }),
  );

/** Where a thing is whose notes are counted from it, as far as the document says. */
function placeOf(topology: Topology, kind: 'device' | 'link' | 'site', id: string): { x: number; y: number } {
  const device = (id: string) => topology.devices[id]?.at ?? { x: 0, y: 0 };
  if (kind === 'device') return device(id);
  const link = kind === 'link' ? topology.links[id] : undefined;
  if (!link) return topology.sites[id]?.area ?? { x: 0, y: 0 };
  const [a, b] = [device(link.a.device), device(link.b.device)];
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
}

function removeSite(topology: Topology, id: string): Planning {
  if (!entryOf(topology.sites, id)) return fail(`There is no site "${id}" any more.`);
  return plan([
    ...entriesById(topology.devices)
      .filter(([, device]) => device.site === id)
      .map(([device]) => ({ path: ['devices', device, 'site'] })),
    ...entriesById(topology.sites)
      .filter(([, site]) => site.parent === id)
      .map(([child]) => ({ path: ['sites', child, 'parent'] })),
    ...anchorEdits(topology, 'site', new Set([id])),
    { path: ['sites', id] },
  ]);
}

function moveDevices(topology: Topology, to: Readonly<Record<string, { x: number; y: number }>>): Planning {
  const missing = Object.keys(to).find((id) => !entryOf(topology.devices, id));
  if (missing !== undefined) return fail(`There is no device "${missing}" any more.`);
  return plan(
    Object.entries(to).map(([id, at]) => ({ path: ['devices', id, 'at'], value: at })),
    ...Object.keys(to).map((id) => ['devices', id]),
  );
}

function connect(topology: Topology, id: string, link: { a: LinkEnd; b: LinkEnd }): Planning {
  if (entryOf(topology.links, id)) return fail(`There is a link "${id}" already.`);
  for (const end of [link.a, link.b]) {
    const device = entryOf(topology.devices, end.device);
    if (!device) return fail(`There is no device "${end.device}" any more.`);
    if (!portOf(topology, device, end.port)) return fail(`"${device.name}" has no port "${end.port}".`);
  }
  return plan([{ path: ['links', id], value: link }], ['devices', link.a.device], ['devices', link.b.device]);
}
