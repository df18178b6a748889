import { type Graph } from './graph';

/**
 * Colours of the vertices of several graphs together, refined until neighbourhoods tell no more apart (1-dimensional
 * Weisfeiler and Leman): vertices of one colour are alike in all that they are linked to, however far. By links alone, or
 * by what devices share as well. Pure; names and ids are not looked at.
 */
export function coloursOf(graphs: readonly Graph[], withShares: boolean): Int32Array[] {
  let colours = graphs.map(({ kinds }) => Int32Array.from(kinds, () => 0));
  let count = 0;
  const neighbours = graphs.map(({ links, shares, kinds }) =>
    kinds.map((_kind, at) => [...(links[at] ?? []), ...(withShares ? shares[at]! : [])]),
  );
  for (let first = true; ; first = false) {
    const known = new Map<string, number>();
    const next = graphs.map(({ kinds, ids }, of) =>
      Int32Array.from(kinds, (kind, at) => {
        if (!withShares && at >= ids.length) return -1;
        const around = first
          ? ''
          : neighbours[of]![at]!.map((other) => colours[of]![other]!)
              .sort((a, b) => a - b)
              .join();
        const key = `${first ? kind : colours[of]![at]!}|${around}`;
        let colour = known.get(key);
        if (colour === undefined) known.set(key, (colour = known.size));
        return colour;
      }),
    );
    colours = next;
    if (!first && known.size === count) return colours;
    count = known.size;
  }
}
