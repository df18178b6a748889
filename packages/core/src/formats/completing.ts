import { cableBetween } from '../editing';
import { type Problem, type Topology, MEDIA, readTopology } from '../topology';

type Tree = Record<string, unknown>;
const isTree = (value: unknown): value is Tree => value !== null && typeof value === 'object' && !Array.isArray(value);

/** Distances of devices that come without places. */
const STEP = { across: 220, down: 130, columns: 6 };

/**
 * What people leave out who write a drawing by hand: the place of a device, and ports and medium of a link. It is filled in
 * with a free place below the others, the first ports that fit, and the medium that fits them. What was filled in is told;
 * what cannot be is left as it is, for the reader to name.
 */
export function completed(value: unknown): { value: unknown; told: Problem[] } {
  if (!isTree(value) || !isTree(value.devices)) return { value, told: [] };
  const told: Problem[] = [];
  const devices = placed(value.devices, told);
  const links = isTree(value.links) ? value.links : {};
  const open = Object.entries(links).filter(([, link]) => isOpen(link));
  if (!open.length) return { value: told.length ? { ...value, devices } : value, told };
  const whole = Object.fromEntries(Object.entries(links).filter(([, link]) => !isOpen(link)));
  const read = readTopology({ ...value, devices, links: whole });
  if (!read.ok) return { value: { ...value, devices }, told };
  let draft: Topology = read.value;
  const filled: Tree = { ...links };
  // What is said of a port holds before any cable takes the next free one.
  const inOrder = (open as [string, Tree][]).sort(([, a], [, b]) => said(b) - said(a));
  for (const [id, link] of inOrder) {
    const cable = cableFor(draft, link);
    if (!cable) continue;
    // What else stands there is the reader's to name.
    const made = { ...link, ...cable, a: { ...(link.a as Tree), ...cable.a }, b: { ...(link.b as Tree), ...cable.b } };
    filled[id] = made;
    draft = { ...draft, links: { ...draft.links, [id]: made } };
    const name = (device: string): string => draft.devices[device]?.name ?? device;
    told.push({
      place: `links › ${id}`,
      text: `It goes from ${name(cable.a.device)} ${cable.a.port} to ${name(cable.b.device)} ${cable.b.port}, ${cable.medium}: what was not said was filled in.`,
    });
  }
  return { value: { ...value, devices, links: filled }, told };
}

const isOpen = (link: unknown): boolean =>
  isTree(link) &&
  isTree(link.a) &&
  isTree(link.b) &&
  (link.medium === undefined || link.a.port === undefined || link.b.port === undefined);

const said = ({ a, b }: Tree): number => [a, b].filter((end) => (end as Tree).port !== undefined).length;

function cableFor(topology: Topology, { a, b, medium }: Tree): ReturnType<typeof cableBetween> {
  const [first, second] = [a as Tree, b as Tree];
  const isEnd = ({ device, member, port }: Tree): boolean =>
    typeof device === 'string' &&
    Object.hasOwn(topology.devices, device) &&
    [member, port].every((key) => key === undefined || typeof key === 'string');
  const known = MEDIA.find((each) => each === medium);
  if (!isEnd(first) || !isEnd(second) || (medium !== undefined && !known)) return null;
  const end = ({ device, member, port }: Tree) => ({
    device: device as string,
    ...(member !== undefined && { member: member as string }),
    ...(port !== undefined && { port: port as string }),
  });
  return cableBetween(topology, end(first), end(second), known);
}

/** Devices with places; those without get one below all that have one. */
function placed(devices: Tree, told: Problem[]): Tree {
  const ys = Object.values(devices).flatMap((device) =>
    isTree(device) && isTree(device.at) && typeof device.at.y === 'number' ? device.at.y : [],
  );
  const top = ys.length ? Math.max(...ys) + STEP.down : 0;
  let count = 0;
  return Object.fromEntries(
    Object.entries(devices).map(([id, device]) => {
      if (!isTree(device) || device.at !== undefined) return [id, device];
      const at = { x: (count % STEP.columns) * STEP.across, y: top + Math.floor(count / STEP.columns) * STEP.down };
      count++;
      told.push({ place: `devices › ${id}`, text: `It has no place: it was put at ${at.x}, ${at.y}.` });
      return [id, { ...device, at }];
    }),
  );
}
