import { type LinkLine } from '@sobrin/core/drawing';
import { MEDIUM_NAMES } from '@sobrin/core/engine';
import { type Topology } from '@sobrin/core/topology';
import { type KeyboardEvent, memo } from 'react';
import { speedWords } from '../ui/speed-words';
import { type ChipState, type LinkFact } from '../workers/facts';
import { pathOf, sameLink } from './link-parts';

/** What takes the clicks on links: beneath the tiles, so that a device a cable passes over is still taken itself. */
export function LinkHits({
  topology,
  lines,
  facts,
  selected,
  onPick,
}: {
  topology: Topology;
  lines: readonly LinkLine[];
  facts: Readonly<Record<string, LinkFact>> | null;
  selected: ReadonlySet<string>;
  onPick: HitProps['onPick'];
}) {
  /** Of all links Tab stops at one: that which is chosen, else the first. */
  const tabbed = (lines.find(({ id }) => selected.has(id)) ?? lines[0])?.id;
  const nameOf = (end: LinkLine['a']): string => topology.devices[end.device]?.name ?? '';
  return (
    <svg
      className="links hits"
      {...(onPick && lines.length
        ? { role: 'group', 'aria-label': 'Links: arrows go from one to the next', onKeyDown: walk }
        : { role: 'presentation' })}
    >
      {lines.map((line) => (
        <LinkHit
          key={line.id}
          line={line}
          fact={facts?.[line.id] ?? null}
          nameA={nameOf(line.a)}
          nameB={nameOf(line.b)}
          isTabbed={line.id === tabbed}
          isChosen={selected.has(line.id)}
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
  isTabbed: boolean;
  isChosen: boolean;
  onPick: ((link: string, add: boolean) => void) | undefined;
}

/** Arrows go from link to link. */
function walk(event: KeyboardEvent<SVGSVGElement>): void {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  const all = [...event.currentTarget.querySelectorAll<SVGElement>('[data-hit]')];
  const at = all.findIndex((each) => each === document.activeElement);
  all[(at + by + all.length) % all.length]?.focus();
}

/** A link for the pointer, and in words for those who do not see it. */
const LinkHit = memo(function LinkHit({ line, fact, nameA, nameB, isTabbed, isChosen, onPick }: HitProps) {
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
      {...(onPick ? { role: 'button', tabIndex: isTabbed ? 0 : -1, 'aria-pressed': isChosen } : { role: 'img' })}
      onKeyDown={(event) => {
        if (!onPick || (event.key !== 'Enter' && event.key !== ' ')) return;
        event.preventDefault();
        event.stopPropagation();
        onPick(line.id, event.shiftKey || event.ctrlKey || event.metaKey);
      }}
      onClick={(event) => {
        event.stopPropagation();
        onPick?.(line.id, event.shiftKey);
      }}
    >
      <title>{label}</title>
    </path>
  );
}, sameLink);
