import { type LinkLine } from '@sobrin/core/drawing';
import { MEDIUM_NAMES } from '@sobrin/core/engine';
import { type Topology } from '@sobrin/core/topology';
import { memo } from 'react';
import { speedWords } from '../ui/speed-words';
import { type ChipState, type LinkFact } from '../workers/facts';
import { pathOf, sameLink } from './link-parts';

/** What takes the clicks on links: beneath the tiles, so that a device a cable passes over is still taken itself. */
export function LinkHits({
  topology,
  lines,
  facts,
  onPick,
}: {
  topology: Topology;
  lines: readonly LinkLine[];
  facts: Readonly<Record<string, LinkFact>> | null;
  onPick: HitProps['onPick'];
}) {
  const nameOf = (end: LinkLine['a']): string => topology.devices[end.device]?.name ?? '';
  return (
    <svg className="links hits" role="presentation">
      {lines.map((line) => (
        <LinkHit
          key={line.id}
          line={line}
          fact={facts?.[line.id] ?? null}
          nameA={nameOf(line.a)}
          nameB={nameOf(line.b)}
          onPick={onPick}
        />
      ))}
    </svg>
  );
}

const STATE_WORDS: Readonly<Record<ChipState, string>> = {
  up: 'passes traffic',
  down: 'is down',
  crossed: 'cannot work',
};

interface HitProps {
  line: LinkLine;
  fact: LinkFact | null;
  nameA: string;
  nameB: string;
  onPick: ((link: string, add: boolean) => void) | undefined;
}

/** A link for the pointer, and in words for those who do not see it. */
const LinkHit = memo(function LinkHit({ line, fact, nameA, nameB, onPick }: HitProps) {
  const words = [
    MEDIUM_NAMES[line.medium],
    fact?.speedMbps ? speedWords(fact.speedMbps) : '',
    line.lengthM === undefined ? '' : `${line.lengthM} m`,
    fact === null ? '' : STATE_WORDS[fact.state],
  ].filter(Boolean);
  const label = `${nameA} ${line.a.port} to ${nameB} ${line.b.port}, ${words.join(', ')}${fact?.text ? `: ${fact.text}` : ''}`;
  return (
    <path
      className="hit"
      data-hit={line.id}
      d={pathOf(line)}
      role={onPick ? 'button' : undefined}
      aria-label={label}
      onClick={(event) => {
        event.stopPropagation();
        onPick?.(line.id, event.shiftKey);
      }}
    >
      <title>{label}</title>
    </path>
  );
}, sameLink);
