import { fail, ok, type Result } from '../result';
import { KIT, MODULES, modelOf, portOf } from './kit';
import { migrateTopology } from './migrate';
import { entriesById, entryOf } from '../records';
import { type Device, type LinkEnd, Topology } from './schema';
import { type Problem, shapeProblems } from './shape';

/** Devices of a document, the members of tiles counted one by one. */
export const MAX_DEVICES = 5000;

/** Reads a value that should be a topology of any known version: shape first, then what must hold between its parts. */
export function readTopology(value: unknown): Result<Topology, Problem[]> {
  const current = migrateTopology(value);
  if (!current.ok) return fail([current.error]);
  const shape = shapeProblems(Topology, current.value);
  if (shape.length) return fail(shape);
  const topology = current.value as Topology;
  const problems = invariantProblems(topology);
  return problems.length ? fail(problems) : ok(topology);
}

export const countDevices = (topology: Topology): number =>
  Object.values(topology.devices).reduce(
    (sum, device) => sum + (device.members ? Object.keys(device.members).length : 1),
    0,
  );

/** What must hold in every document and the shape cannot say: everything that is pointed at exists. */
export function invariantProblems(topology: Topology): Problem[] {
  const count = countDevices(topology);
  if (count > MAX_DEVICES)
    return [{ place: 'devices', text: `The drawing has ${count} devices: at most ${MAX_DEVICES} are taken.` }];
  return [
    ...siteProblems(topology),
    ...modelProblems(topology),
    ...entriesById(topology.devices).flatMap(([id, device]) => deviceProblems(topology, id, device)),
    ...linkProblems(topology),
    ...noteProblems(topology),
  ];
}

function siteProblems(topology: Topology): Problem[] {
  return entriesById(topology.sites).flatMap(([id, site]) => {
    const place = `sites › ${id} › parent`;
    if (site.parent === undefined) return [];
    if (!entryOf(topology.sites, site.parent)) return [{ place, text: `There is no site "${site.parent}".` }];
    const seen = new Set([id]);
    for (let at: string | undefined = site.parent; at !== undefined; at = entryOf(topology.sites, at)?.parent) {
      if (seen.has(at)) return [{ place, text: `The site "${site.name}" lies inside itself.` }];
      seen.add(at);
    }
    return [];
  });
}

function modelProblems(topology: Topology): Problem[] {
  return entriesById(topology.models).flatMap(([id, model]) => {
    const place = `models › ${id}`;
    const problems: Problem[] = [];
    if (entryOf(KIT, id))
      problems.push({ place, text: `"${id}" is a model of the kit: give your own model another id.` });
    const keys = model.ports.map((port) => port.key);
    const twice = keys.find((key, at) => keys.indexOf(key) !== at);
    if (twice !== undefined) problems.push({ place: `${place} › ports`, text: `The port "${twice}" is there twice.` });
    for (const port of model.ports) {
      if (port.through === undefined) continue;
      const other = model.ports.find(({ key }) => key === port.through);
      const isPair = other !== undefined && other !== port && other.through === port.key;
      if (!isPair || other.connector !== port.connector || model.class !== 'passive' || model.bridges !== 'hub')
        problems.push({
          place: `${place} › ports`,
          text: `The port "${port.key}" is wired through to "${port.through}": of a model of class "passive" that bridges as "hub", two ports of one connector name each other.`,
        });
    }
    return problems;
  });
}

function deviceProblems(topology: Topology, id: string, device: Device): Problem[] {
  const place = `devices › ${id}`;
  const model = modelOf(topology, device);
  if (!model)
    return [
      {
        place: `${place} › model`,
        text: `"${device.name}" has the unknown model "${device.model}": it is neither in the kit nor defined under "models".`,
      },
    ];
  const problems: Problem[] = [];
  if (device.site !== undefined && !entryOf(topology.sites, device.site))
    problems.push({ place: `${place} › site`, text: `There is no site "${device.site}".` });
  for (const [bay, module] of entriesById(device.modules)) {
    const at = `${place} › modules › ${bay}`;
    const facts = entryOf(model.bays, bay);
    if (!facts) problems.push({ place: at, text: `${model.name} has no bay "${bay}".` });
    else if (!entryOf(MODULES, module)) problems.push({ place: at, text: `There is no module "${module}".` });
    else if (!facts.accepts.includes(module))
      problems.push({ place: at, text: `The bay "${bay}" does not take the module "${module}".` });
  }
  const layers: (readonly [string, Pick<Device, 'ports' | 'interfaces'>])[] = [
    [place, device],
    ...entriesById(device.members).map(([member, instance]) => [`${place} › members › ${member}`, instance] as const),
  ];
  for (const [at, layer] of layers) {
    for (const key of Object.keys(layer.ports ?? {}))
      if (!portOf(topology, device, key))
        problems.push({
          place: `${at} › ports › ${key}`,
          text: `"${device.name}" (${model.name}) has no port "${key}".`,
        });
    problems.push(...interfaceProblems(topology, device, at, layer.interfaces));
  }
  return problems;
}

function interfaceProblems(
  topology: Topology,
  device: Device,
  place: string,
  interfaces: Device['interfaces'],
): Problem[] {
  const problems: Problem[] = [];
  const seen = new Map<string, string>();
  for (const [key, interfaceConfig] of entriesById(interfaces)) {
    const at = `${place} › interfaces › ${key}`;
    const { on } = interfaceConfig;
    if ((on.kind === 'port' || on.kind === 'sub') && !portOf(topology, device, on.port))
      problems.push({ place: `${at} › on › port`, text: `"${device.name}" has no port "${on.port}".` });
    if (on.kind === 'bundle' && !entryOf(device.settings?.bundles, on.bundle))
      problems.push({ place: `${at} › on › bundle`, text: `"${device.name}" has no bundle "${on.bundle}".` });
    const same =
      on.kind === 'port'
        ? on.port
        : on.kind === 'sub'
          ? `${on.port}.${on.vlan}`
          : on.kind === 'svi'
            ? `vlan ${on.vlan}`
            : on.kind === 'bundle'
              ? `bundle ${on.bundle}`
              : null;
    if (same === null) continue;
    const other = seen.get(same);
    if (other !== undefined)
      problems.push({
        place: at,
        text: `"${other}" and "${key}" of "${device.name}" are both the interface of ${same}.`,
      });
    seen.set(same, key);
  }
  return problems;
}

function linkProblems(topology: Topology): Problem[] {
  return entriesById(topology.links).flatMap(([id, link]) => {
    const problems = [
      ...endProblems(topology, `links › ${id} › a`, link.a),
      ...endProblems(topology, `links › ${id} › b`, link.b),
    ];
    if (link.a.device === link.b.device && link.a.port === link.b.port && link.a.member === link.b.member)
      problems.push({ place: `links › ${id}`, text: `Both ends are in the same port "${link.a.port}".` });
    return problems;
  });
}

function endProblems(topology: Topology, place: string, end: LinkEnd): Problem[] {
  const device = entryOf(topology.devices, end.device);
  if (!device) return [{ place: `${place} › device`, text: `There is no device "${end.device}".` }];
  if (device.members ? !entryOf(device.members, end.member ?? '') : end.member !== undefined)
    return [
      {
        place: `${place} › member`,
        text: device.members
          ? `"${device.name}" stands for ${Object.keys(device.members).length} devices: say which one with "member".`
          : `"${device.name}" is a single device: it has no members.`,
      },
    ];
  if (modelOf(topology, device) && !portOf(topology, device, end.port))
    return [{ place: `${place} › port`, text: `"${device.name}" has no port "${end.port}".` }];
  return [];
}

function noteProblems(topology: Topology): Problem[] {
  const maps = { device: topology.devices, link: topology.links, site: topology.sites };
  return (['notes', 'comments'] as const).flatMap((map) =>
    entriesById<{ anchor?: { kind: keyof typeof maps; id: string } }>(topology[map]).flatMap(([id, { anchor }]) =>
      anchor && !entryOf<unknown>(maps[anchor.kind], anchor.id)
        ? [{ place: `${map} › ${id} › anchor`, text: `There is no ${anchor.kind} "${anchor.id}".` }]
        : [],
    ),
  );
}
