import { splitInstanceId } from '@sobrin/core/engine';
import { type Drill, type DrilledFault, type Spec } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { type Mark, type Marks } from '../drawing/marks';

/** The faults as they fare once proposals are taken: what these notice is noticed. */
export function faultsWith({ faults, proposals }: Drill, taken: ReadonlySet<string>): readonly DrilledFault[] {
  const now = new Set(proposals.flatMap(({ id, notices }) => (taken.has(id) ? notices : [])));
  return faults.map((fault, at) =>
    now.has(at) && fault.outcome === 'missed' ? { ...fault, outcome: 'noticed' as const } : fault,
  );
}

/** How many of the faults at a thing are noticed. */
interface Watched {
  readonly noticed: number;
  readonly of: number;
}
const markOf = ({ noticed, of }: Watched): Mark => (noticed === of ? 'met' : noticed === 0 ? 'lost' : 'unsure');

/** The reference as a map of what the spec watches: each device and link by how many of its faults are noticed. */
export function watchedMarks(faults: readonly DrilledFault[], { links }: Topology): Marks {
  const devices = new Map<string, Watched>();
  const cables = new Map<string, Watched>();
  const put = (map: Map<string, Watched>, id: string, isNoticed: boolean): void => {
    const { noticed, of } = map.get(id) ?? { noticed: 0, of: 0 };
    map.set(id, { noticed: noticed + Number(isNoticed), of: of + 1 });
  };
  for (const { outcome, places, alike } of faults) {
    if (outcome === 'harmless') continue;
    for (const { device, link } of [...places, ...alike]) {
      if (device !== undefined) put(devices, splitInstanceId(device).device, outcome === 'noticed');
      if (link !== undefined && links[link]) put(cables, link, outcome === 'noticed');
    }
  }
  const marks = (map: ReadonlyMap<string, Watched>): Map<string, Mark> =>
    new Map([...map].map(([id, watched]) => [id, markOf(watched)]));
  const words = new Map([...devices].map(([id, { noticed, of }]) => [id, `${noticed}/${of}`]));
  return {
    devices: marks(devices),
    links: marks(cables),
    words,
    reasons: new Map([...words].map(([id, text]) => [id, `${text} planted mistakes noticed`])),
  };
}

/** Missed faults by kind of mistake, those of which most are missed first. */
export function missedByKind(
  faults: readonly DrilledFault[],
): { operator: string; title: string; list: { fault: DrilledFault; at: number }[] }[] {
  const kinds = new Map<string, { operator: string; title: string; list: { fault: DrilledFault; at: number }[] }>();
  for (const [at, fault] of faults.entries()) {
    if (fault.outcome !== 'missed') continue;
    const { operator, title } = fault;
    const kind = kinds.get(operator) ?? { operator, title, list: [] };
    kind.list.push({ fault, at });
    kinds.set(operator, kind);
  }
  return [...kinds.values()].sort((a, b) => b.list.length - a.list.length);
}

/** How many faults each section of a spec notices. */
export function noticedBySection(faults: readonly DrilledFault[], { sections }: Spec): Map<string, number> {
  const sectionOf = new Map(sections.flatMap(({ id, requirements }) => requirements.map((each) => [each.id, id])));
  const count = new Map<string, number>();
  for (const { noticedBy } of faults)
    for (const section of new Set(noticedBy.flatMap((id) => sectionOf.get(id) ?? [])))
      count.set(section, (count.get(section) ?? 0) + 1);
  return count;
}

/** Mistakes whose price is out of all proportion: more than 15 % of the mark, or less than 1 % of it. */
export const oddPrices = (faults: readonly DrilledFault[], of: number): DrilledFault[] =>
  faults
    .filter(
      ({ outcome, cost, costOnce = cost }) => outcome === 'noticed' && (costOnce > 0.15 * of || costOnce < 0.01 * of),
    )
    .sort((a, b) => (b.costOnce ?? b.cost) - (a.costOnce ?? a.cost));
