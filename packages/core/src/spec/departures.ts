import { type NetworkModel } from '../engine';
import { type Topology, canonicalJson, entriesById, entryOf } from '../topology';
import { type JudgingLab } from './judging';
import { withoutLayout } from './layout';
import { type Remark } from './outside';

const MOST_PLACES = 24;

/**
 * Where a drawing has what the lab does not give, or lacks what it may not change: more of a model than the kit has, and
 * locked parts of the starter that are not as they were. The Bench refuses the first, files that are handed in need not
 * have been drawn there. Out: what is told to whoever looks at the mark; no points hang on it.
 */
export const departuresOf = ({ policy, starter }: JudgingLab, student: NetworkModel): Remark[] => [
  ...beyondKit(policy.kit, student),
  ...(starter ? changedLocked(starter, student.topology) : []),
];

function beyondKit(kit: JudgingLab['policy']['kit'], { instances }: NetworkModel): Remark[] {
  if (!kit) return [];
  const devices = new Map<string, { name: string; ids: string[] }>();
  for (const { device, deviceId, model } of instances.values()) {
    const known = devices.get(device.model);
    if (known) known.ids.push(deviceId);
    else devices.set(device.model, { name: model.name, ids: [deviceId] });
  }
  return [...devices].flatMap(([model, { name, ids }]): Remark[] => {
    const allowed = entryOf(kit, model);
    const places = [...new Set(ids)].slice(0, MOST_PLACES).map((device) => ({ device }));
    if (!allowed) return [{ text: `The lab's kit has no “${name}”; ${ids.length} of it are drawn.`, places }];
    return allowed.most !== undefined && ids.length > allowed.most
      ? [{ text: `The lab's kit has ${allowed.most} of “${name}”; ${ids.length} are drawn.`, places }]
      : [];
  });
}

/** Where something stands, and how its cables bend, may be changed of what is locked. */
function changedLocked(starter: Topology, drawn: Topology): Remark[] {
  const [before, now] = [withoutLayout(starter), withoutLayout(drawn)];
  const locked = new Set(starter.locked ?? []);
  return (['devices', 'links', 'sites'] as const).flatMap((part) =>
    entriesById<object>(before[part]).flatMap(([id, was]): Remark[] => {
      if (!locked.has(id)) return [];
      const is = entryOf<object>(now[part], id);
      if (is && canonicalJson(is) === canonicalJson(was)) return [];
      const name = part === 'links' ? linkName(starter, id) : starter[part][id]!.name;
      const text = `${name} came with the starter and was not to be changed, but ${is ? 'was' : 'is gone'}.`;
      const place = part === 'devices' ? { device: id } : part === 'links' ? { link: id } : { site: id };
      return [{ text, places: is ? [place] : [] }];
    }),
  );
}

function linkName({ links, devices }: Topology, id: string): string {
  const { a, b } = links[id]!;
  return `The link ${[a, b].map((end) => `${devices[end.device]?.name ?? end.device} ${end.port}`).join(' – ')}`;
}
