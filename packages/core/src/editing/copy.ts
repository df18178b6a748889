import { byName } from '../collation';
import { sameValue } from '../changes';
import { boxAround, sceneOf, tilesOf } from '../drawing';
import { type Command, type Device, type Topology, entriesById, entryOf } from '../topology';
import { countUp, takenNames } from './names';
import { type PlanOfLab, NextAddresses } from './next-addresses';
import { type NewId, type Position, freePlace } from './place';

/** What is chosen as a drawing of its own: devices, the links between them, their sites and the notes that hang on them. */
export function partOf(topology: Topology, devices: readonly string[]): Topology {
  const inside = new Set(devices.filter((id) => entryOf(topology.devices, id)));
  const pick = <T>(map: Readonly<Record<string, T>> | undefined, keep: (id: string, element: T) => boolean) =>
    Object.fromEntries(entriesById(map).filter(([id, nullable]) => keep(id, nullable)));
  const links = pick(topology.links, (_id, { a, b }) => inside.has(a.device) && inside.has(b.device));
  const chosen = pick(topology.devices, (id) => inside.has(id));
  const sites = new Set(Object.values(chosen).flatMap((device) => device.site ?? []));
  const inUse = new Set(Object.values(chosen).map((device) => device.model));
  const notes = pick(topology.notes, (_id, { anchor }) => {
    if (anchor?.kind === 'device') return inside.has(anchor.id);
    return anchor?.kind === 'link' && anchor.id in links;
  });
  const models = pick(topology.models, (id) => inUse.has(id));
  return {
    format: topology.format,
    version: topology.version,
    sites: Object.fromEntries([...sites].flatMap((id) => siteAlone(topology, id))),
    devices: chosen,
    links,
    ...(Object.keys(notes).length && { notes }),
    ...(Object.keys(models).length && { models: models }),
  };
}

const siteAlone = (topology: Topology, id: string): [string, Topology['sites'][string]][] => {
  const site = entryOf(topology.sites, id);
  if (!site) return [];
  const { parent: _parent, area: _area, ...alone } = site;
  return [[id, alone]];
};

/**
 * Puts a part into a drawing. Everything gets a new id, names and cable IDs are counted up where they are taken, and no
 * address is copied as it stands: each becomes the next free one of its subnet, or is left out where there is none. Of a
 * part that is no copy (`foreign`, as from a file) addresses that nobody has stay as they are.
 */
export function pastePart(
  topology: Topology,
  part: Topology,
  {
    newId,
    shift,
    plan,
    foreign = false,
  }: { newId: NewId; shift: Position; plan?: PlanOfLab | undefined; foreign?: boolean },
): { commands: Command[]; ids: string[] } {
  const names = takenNames(topology);
  const cables = new Set(Object.values(topology.links).flatMap((link) => link.cableId ?? []));
  const take = (taken: Set<string>, name: string): string => {
    const free = taken.has(name) ? countUp(name, taken) : name;
    taken.add(free);
    return free;
  };
  const addresses = new NextAddresses(topology, plan);
  const commands: Command[] = [];
  const models = new Map<string, string>();
  for (const [id, model] of entriesById(part.models)) {
    const there = entryOf(topology.models, id);
    if (there && sameValue(there, model)) continue;
    // Another model of the drawing has this id.
    models.set(id, there ? newId(model.name) : id);
    commands.push({ kind: 'setModel', id: models.get(id)!, set: model });
  }
  const sites = new Map<string, string>();
  for (const [id, site] of entriesById(part.sites)) {
    const there =
      entryOf(topology.sites, id)?.name === site.name
        ? id
        : entriesById(topology.sites).find(([, candidate]) => candidate.name === site.name)?.[0];
    sites.set(id, there ?? newId(site.name));
    if (there === undefined) commands.push({ kind: 'setSite', id: sites.get(id)!, set: site });
  }
  const groups = new Map<string, string>();
  // As people count: the copy of PC-9 gets its name and address before that of PC-10.
  const originals = entriesById(part.devices).sort(([, a], [, b]) => byName(a.name, b.name));
  const devices = new Map(originals.map(([id, { name }]) => [id, newId(name)]));
  for (const [id, device] of originals) {
    const name = take(names, device.name);
    const site = device.site === undefined ? undefined : sites.get(device.site);
    const { site: _site, group, ...rest } = readdressed(device, addresses, foreign);
    if (group !== undefined && !groups.has(group)) groups.set(group, newId('group'));
    commands.push({
      kind: 'addDevice',
      id: devices.get(id)!,
      device: {
        ...rest,
        model: models.get(rest.model) ?? rest.model,
        name,
        at: { x: Math.round(device.at.x + shift.x), y: Math.round(device.at.y + shift.y) },
        ...(site !== undefined && { site }),
        ...(group !== undefined && { group: groups.get(group)! }),
        ...(rest.settings?.hostname === device.name && { settings: { ...rest.settings, hostname: name } }),
        ...(device.members && {
          members: Object.fromEntries(
            entriesById(rest.members).map(([key, member]) => [
              key,
              member.name === undefined ? member : { ...member, name: take(names, member.name) },
            ]),
          ),
        }),
      },
    });
  }
  const links = new Map(entriesById(part.links).map(([id]) => [id, newId('link')]));
  for (const [id, link] of entriesById(part.links)) {
    const [a, b] = [devices.get(link.a.device), devices.get(link.b.device)];
    if (a === undefined || b === undefined) continue;
    const bends = link.bends?.map(({ x, y }) => ({ x: x + shift.x, y: y + shift.y }));
    commands.push({
      kind: 'connect',
      id: links.get(id)!,
      link: {
        ...link,
        a: { ...link.a, device: a },
        b: { ...link.b, device: b },
        ...(bends && { bends }),
        ...(link.cableId !== undefined && { cableId: take(cables, link.cableId) }),
      },
    });
  }
  for (const [, note] of entriesById(part.notes)) {
    const anchor = note.anchor && (note.anchor.kind === 'device' ? devices : links).get(note.anchor.id);
    commands.push({
      kind: 'setNote',
      id: newId('note'),
      set: {
        ...note,
        // What hangs on something is placed from there.
        at: note.anchor ? note.at : { x: note.at.x + shift.x, y: note.at.y + shift.y },
        ...(note.anchor && anchor !== undefined && { anchor: { ...note.anchor, id: anchor } }),
      },
    });
  }
  return { commands, ids: [...devices.values()] };
}

/** How far a copy is put away from its original: to the right of it, or to the nearest free place from there. */
export function shiftForCopy(topology: Topology, part: Topology): Position {
  const box = boxAround([...tilesOf(part).values()]);
  if (!box) return { x: 0, y: 0 };
  const { tiles, lines } = sceneOf(topology, { texts: false });
  const at = freePlace(
    { boxes: [...tiles.values()], lines },
    { x: box.x + box.width + 24, y: box.y },
    box.width,
    box.height,
  );
  return { x: at.x - box.x, y: at.y - box.y };
}

/** A device with new addresses, and without what may exist only once: MAC addresses and router ids. */
function readdressed(device: Device, addresses: NextAddresses, foreign: boolean): Device {
  const { ospf, ...settings } = device.settings ?? {};
  const { routerId: _routerId, ...areas } = ospf ?? {};
  const members =
    device.members && entriesById(device.members).map(([id, member]) => [id, layer(member, addresses, foreign)]);
  return {
    ...layer(device, addresses, foreign),
    ...(device.settings && { settings: { ...settings, ...(ospf && { ospf: areas }) } }),
    ...(members && { members: Object.fromEntries(members) as Device['members'] }),
  };
}

function layer<T extends Pick<Device, 'ports' | 'interfaces'>>(copy: T, addresses: NextAddresses, foreign: boolean): T {
  const ports =
    copy.ports &&
    Object.fromEntries(entriesById(copy.ports).map(([key, { mac: _mac, ...rest }]) => [key, rest] as const));
  const interfaces =
    copy.interfaces &&
    Object.fromEntries(
      entriesById(copy.interfaces).map(([key, interfaceConfig]) => [
        key,
        foreign ? addresses.settle(interfaceConfig) : addresses.renew(interfaceConfig),
      ]),
    );
  return { ...copy, ...(ports && { ports }), ...(interfaces && { interfaces }) };
}
