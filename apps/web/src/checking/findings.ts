import { splitInstanceId } from '@sobrin/core/engine';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { type Mark, portMarkKey } from '../drawing/marks';

export type RequirementResult = CheckResult['requirements'][number];
export type Item = RequirementResult['items'][number];

const RANK: Record<Mark, number> = { met: 0, unsure: 1, lost: 2 };
const markOf = (item: Item): Mark => (item.met === true ? 'met' : item.met === false ? 'lost' : 'unsure');

/** The places of a requirement's items as marks in the drawing; where several items point at a thing the worst shows. */
export function marksOf(
  items: readonly Item[],
): Record<'devices' | 'links' | 'ports' | 'sites', Map<string, Mark>> & { reasons: Map<string, string> } {
  const reasons = new Map<string, string>();
  const devices = new Map<string, Mark>();
  const ports = new Map<string, Mark>();
  const sites = new Map<string, Mark>();
  const links = new Map<string, Mark>();
  const put = (map: Map<string, Mark>, id: string | undefined, mark: Mark): void => {
    if (id !== undefined && RANK[mark] >= RANK[map.get(id) ?? 'met']) map.set(id, mark);
  };
  for (const item of items)
    for (const { device, link, port, site } of item.places) {
      put(devices, device, markOf(item));
      if (device !== undefined && devices.get(device) === markOf(item) && (item.met !== true || !reasons.has(device)))
        reasons.set(device, item.text);
      put(links, link, markOf(item));
      put(sites, site, markOf(item));
      if (device !== undefined && port !== undefined) put(ports, portMarkKey(device, port), markOf(item));
    }
  return { devices, links, ports, sites, reasons };
}

/** The devices that items point at: themselves, or at the ends of a link. */
export const devicesOf = (items: readonly Item[], { links }: Pick<Topology, 'links'>): string[] => [
  ...new Set(
    items.flatMap(({ places }) =>
      places.flatMap(({ device, link }) => {
        const drawn = link === undefined ? undefined : links[link];
        return device !== undefined ? [device] : drawn ? [drawn.a.device, drawn.b.device] : [];
      }),
    ),
  ),
];

/** What went wrong first, then what is open, then what is met. */
export const sortedItems = (items: readonly Item[]): Item[] =>
  [...items].sort((a, b) => RANK[markOf(b)] - RANK[markOf(a)]);

/** Which role each of the student's devices plays, where it is called otherwise: "is RT-M". */
export function roleLines(result: CheckResult, reference: Topology, drawing: Topology): Map<string, string> {
  const lines = new Map<string, string>();
  for (const { role, device } of result.matching) {
    if (device === null) continue;
    const [{ device: id }, { device: part }] = [splitInstanceId(device), splitInstanceId(role)];
    const name = reference.devices[part]?.name;
    if (name !== undefined && drawing.devices[id]?.name !== name) lines.set(id, `is ${name}`);
  }
  return lines;
}

/** The requirement one wants to see first: the first that lost something, else the first. */
export const firstOpen = (result: Pick<CheckResult, 'requirements'>): string | null =>
  (result.requirements.find((requirement) => requirement.verdict !== 'met') ?? result.requirements[0])?.id ?? null;

/** How many roles somebody plays, how many of them are not sure, and which of several arrangements counts. */
export function matchedWords({ matching, arranged }: Pick<CheckResult, 'matching' | 'arranged'>): string {
  const matched = matching.filter((match) => match.device !== null);
  const unsure = matched.filter((match) => match.sure === 'unsure').length;
  return [
    `${matched.length} of ${matching.length} roles found`,
    ...(unsure ? [`${unsure} not sure`] : []),
    ...(arranged === 'best' ? ['the best of several ways'] : []),
    ...(arranged === 'least' ? ['of two answers the lesser'] : []),
  ].join(', ');
}
