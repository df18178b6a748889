import { type LinkLine } from '@sobrin/core/drawing';
import { type LinkFact } from '../workers/facts';

const sameFact = (a: LinkFact | null, b: LinkFact | null): boolean =>
  a === b ||
  (a !== null &&
    b !== null &&
    a.state === b.state &&
    a.text === b.text &&
    a.warning === b.warning &&
    a.speedMbps === b.speedMbps);

/** Each answer of the engine has new objects: a link is drawn anew only where something of it changed. */
export function sameLink<P extends { fact: LinkFact | null }>({ fact: was, ...old }: P, { fact, ...next }: P): boolean {
  return sameFact(was, fact) && (Object.keys(next) as (keyof typeof next)[]).every((key) => old[key] === next[key]);
}

/** The path of a link's line, as SVG writes it. */
export const pathOf = ({ points }: LinkLine): string => `M${points.map(({ x, y }) => `${x} ${y}`).join('L')}`;
