import { tagOf } from '../drawing';
import { type Brief, nameByScheme } from '../plan';
import { type Topology, KIT, entriesById, entryOf } from '../topology';

/** All names that are in use, those of the members of tiles included. */
export function takenNames(topology: Topology): Set<string> {
  const taken = new Set<string>();
  for (const device of Object.values(topology.devices)) {
    taken.add(device.name);
    for (const [at, [, member]] of entriesById(device.members).entries())
      taken.add(member.name ?? `${device.name}-${at + 1}`);
  }
  return taken;
}

/**
 * The first names that no device has: by the scheme of the lab where there is one, otherwise TAG-1, TAG-2, … A scheme
 * without a number would give all of them the same name, and is followed by one.
 */
export function freshNames(
  topology: Topology,
  model: string,
  count: number,
  scheme: string | undefined = undefined,
  site = '',
): string[] {
  const kind = (entryOf(KIT, model) ?? entryOf(topology.models, model))?.kind;
  const tag = kind ? tagOf(kind) : 'DEV';
  const rule = patternOf(scheme) ?? '{kind}-{n}';
  const pattern = /\{n{1,2}\}/.test(rule) ? rule : `${rule}-{n}`;
  const taken = takenNames(topology);
  const names: string[] = [];
  for (let n = 1; names.length < count; n++) {
    const name = nameByScheme(pattern, { kind: tag, site, group: tag, n });
    if (!taken.has(name)) names.push(name);
    taken.add(name);
  }
  return names;
}

/** A scheme that is one pattern; one in sentences is for people, and names nothing by itself. */
export const patternOf = (scheme: string | undefined): string | undefined => {
  const text = scheme?.trim();
  return text && !/\s/.test(text) && text.includes('{') ? text : undefined;
};

/** The naming scheme of a brief, as far as it has one. */
export const namingScheme = (brief: Brief | undefined): string | undefined => brief?.schemes?.names;

/**
 * A name counted up to the first that is not taken: the last number in it goes up and keeps its leading zeros
 * ("SW-V09" → "SW-V10"); a name without a number gets one ("SHOP" → "SHOP-2").
 */
export function countUp(name: string, taken: ReadonlySet<string>): string {
  const found = /^(.*?)(\d+)(\D*)$/.exec(name);
  const [before, digits, after] = found ? [found[1]!, found[2]!, found[3]!] : [`${name}-`, '1', ''];
  for (let n = Number(digits) + 1; ; n++) {
    const next = `${before}${String(n).padStart(digits.length, '0')}${after}`;
    if (!taken.has(next)) return next;
  }
}
