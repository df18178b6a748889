import {
  type Box,
  type Label,
  type LinkLine,
  type Scene,
  PILL_HEIGHT,
  TINT_WIDTH,
  arrowHead,
  bracketBox,
  bracketLineY,
  fullLabelBox,
  lengthOf,
  mediumForm,
  middlePlaces,
  overlap,
  pillWidth,
  socketKey,
  stationAt,
  threadStart,
  wirelessLetter,
  wordWidth,
} from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { memo, useMemo } from 'react';
import { type ChipState, type LinkFact } from '../workers/facts';
import { LinkHits } from './link-hits';
import { pathOf, sameLink } from './link-parts';
import { type Lenses, bandsOf, middleOf } from './lenses';
import { type Mark, portMarkKey } from './marks';

interface Props {
  topology: Topology;
  scene: Scene;
  facts: Readonly<Record<string, LinkFact>> | null;
  lenses: Lenses;
  selected: ReadonlySet<string>;
  marks: ReadonlyMap<string, Mark>;
  portMarks: ReadonlyMap<string, Mark>;
  dimOthers: boolean;
  /** Only links that run through it are drawn, and those that `always` names. */
  area?: Box | null;
  always?: ReadonlySet<string> | undefined;
  /** Links that are drawn otherwise just now. */
  without?: ReadonlySet<string> | null;
  onPick?: ((link: string, add: boolean) => void) | undefined;
}

/** All links: their lines beneath the tiles, their chips and what is written along them above. */
export const LinkLayer = memo(function LinkLayer({
  topology,
  scene,
  facts,
  lenses,
  selected,
  marks,
  portMarks,
  dimOthers,
  area = null,
  always,
  without = null,
  onPick,
}: Props) {
  const { vlans, domains } = lenses;
  const shownBands = useMemo(
    () => bandsOf(topology, domains ? facts : null, { vlans: vlans ?? false, domains: domains ?? false }),
    [topology, facts, vlans, domains],
  );
  const isShown = (line: LinkLine): boolean =>
    without?.has(line.id) !== true && (area === null || always?.has(line.id) === true || touches(line.box, area));
  const isBracketShown = (bracket: Scene['brackets'][number]): boolean =>
    area === null || overlap(bracketBox(bracket), area);
  const lines = [...scene.lines.values()].filter(isShown);
  const places = useMemo(() => {
    const sizes = middleSizes(topology, facts, lenses);
    return sizes && middlePlaces(scene.lines.values(), sizes);
  }, [topology, facts, lenses, scene.lines]);
  const bandsAlong = ({ id }: LinkLine): string =>
    (shownBands?.get(id) ?? []).map(({ label, tone }) => `${label} ${tone}`).join(',');
  return (
    <>
      <LinkHits topology={topology} lines={lines} facts={facts} selected={selected} onPick={onPick} />
      <svg className="links wires" role="presentation">
        {lines.map((line) => (
          <Wire
            key={line.id}
            line={line}
            fact={facts?.[line.id] ?? null}
            bands={bandsAlong(line)}
            selected={selected.has(line.id)}
            mark={marks.get(line.id) ?? null}
            dimmed={dimOthers && !marks.has(line.id)}
          />
        ))}
      </svg>
      <svg className="links" role="presentation">
        {lines.map((line) => (
          <Ends
            key={line.id}
            line={line}
            fact={facts?.[line.id] ?? null}
            labelA={lenses.ends ? scene.labels.get(socketKey(line.id, 'a')) : undefined}
            labelB={lenses.ends ? scene.labels.get(socketKey(line.id, 'b')) : undefined}
            middle={middleOf(topology, line.id, facts?.[line.id] ?? null, lenses)}
            bands={bandsAlong(line)}
            place={places?.get(line.id) ?? 0.5}
            selected={selected.has(line.id)}
            markA={portMarks.get(portMarkKey(line.a.device, line.a.port)) ?? null}
            markB={portMarks.get(portMarkKey(line.b.device, line.b.port)) ?? null}
            dimmed={dimOthers && !marks.has(line.id)}
          />
        ))}
        {scene.notes.map(
          (note) =>
            note.thread && (
              <g key={note.id}>
                <path
                  className="note-thread"
                  d={`M${threadStart(note).x} ${threadStart(note).y}L${note.thread.x} ${note.thread.y}`}
                />
                {note.arrow && <path className="note-arrow" d={arrowHead(threadStart(note), note.thread)} />}
              </g>
            ),
        )}
        {lenses.subnets &&
          scene.brackets.filter(isBracketShown).map((bracket) => (
            <g key={`${bracket.prefix} ${bracket.from}`}>
              <path
                className="bracket"
                d={`M${bracket.from} ${bracket.y}m0 ${bracket.above ? 4 : -4}V${bracket.y}H${bracket.to}v${bracket.above ? 4 : -4}`}
              />
              {bracket.lines.map((line, nth) => (
                <text key={line} className="bracket-text" x={bracket.middle} y={bracketLineY(bracket, nth)}>
                  {line}
                </text>
              ))}
            </g>
          ))}
        {lenses.subnets &&
          scene.linkSubnets
            .filter((subnet) => isShown(scene.lines.get(subnet.link)!))
            .map((subnet) => {
              const width = pillWidth(subnet.prefix);
              return (
                <g key={subnet.link}>
                  <rect
                    className="pill"
                    x={subnet.x - width / 2}
                    y={subnet.y - PILL_HEIGHT / 2}
                    width={width}
                    height={PILL_HEIGHT}
                    rx={PILL_HEIGHT / 2}
                  />
                  <text className="pill-text" x={subnet.x} y={subnet.y + 4}>
                    {subnet.prefix}
                  </text>
                </g>
              );
            })}
      </svg>
    </>
  );
});

/** Whether a line may run through an area; an upright or level one has no width or no height. */
const touches = (line: Box, area: Box): boolean =>
  overlap({ x: line.x - 1, y: line.y - 1, width: line.width + 2, height: line.height + 2 }, area);

interface WireProps {
  line: LinkLine;
  fact: LinkFact | null;
  /** What runs along it, each with its tone: "10 1,20 2". */
  bands: string;
  selected: boolean;
  mark: Mark | null;
  dimmed: boolean;
}

/** The line itself, in the form of its medium or as what runs along it. */
const Wire = memo(function Wire({ line, fact, bands: along, selected, mark, dimmed }: WireProps) {
  const form = mediumForm(line);
  const d = pathOf(line);
  const bands = line.medium === 'wireless' ? [] : bandPaths(line, along);
  return (
    <g className={`link${dimmed ? ' dimmed' : ''}`} data-link={line.id} data-state={fact?.state ?? ''}>
      {(selected || mark) && <path className={`band ${mark ?? ''}`} d={d} />}
      {line.tint !== null && (
        <path className="tint" d={d} style={{ stroke: `var(--vlan-${line.tint})` }} strokeWidth={TINT_WIDTH} />
      )}
      {bands.map(({ tone, d: band }, at) => (
        <path key={at} className="vlan-band" d={band} style={{ stroke: `var(--vlan-${tone})` }} />
      ))}
      {(bands.length && form.beads.length === 0 ? [] : form.strokes).map((stroke, at) => (
        <path key={at} className={`wire${stroke.core ? ' core' : ''}`} d={stroke.d} strokeWidth={stroke.width} />
      ))}
      {form.beads.map(({ x, y }, at) => (
        <circle key={at} className={`bead${form.beadsFilled ? ' filled' : ''}`} cx={x} cy={y} r={3.1} />
      ))}
    </g>
  );
}, sameLink);

interface EndsProps {
  line: LinkLine;
  fact: LinkFact | null;
  /** Where the texts at its ends stand; none where they are not shown. */
  labelA: Label | undefined;
  labelB: Label | undefined;
  /** What is written in its middle; empty where nothing is. */
  middle: string;
  /** What runs along it, each with its tone: "10 1,20 2". */
  bands: string;
  /** Where along it that is written, as a share of its length. */
  place: number;
  selected: boolean;
  markA: Mark | null;
  markB: Mark | null;
  dimmed: boolean;
}

/** Its port chips, and what is written at its ends and in its middle. */
const Ends = memo(function Ends({
  line,
  fact,
  labelA,
  labelB,
  middle,
  bands: along,
  place,
  selected,
  markA,
  markB,
  dimmed,
}: EndsProps) {
  const { squareEnds } = mediumForm(line);
  const state = fact?.state ?? null;
  return (
    <g className={`link${dimmed ? ' dimmed' : ''}`} data-ends={line.id}>
      {line.medium === 'wireless' ? (
        <Badges line={line} selected={selected} />
      ) : (
        [line.a, line.b].map((end, at) => (
          <Chip
            key={at}
            end={end}
            mark={at === 0 ? markA : markB}
            state={state}
            warning={fact?.warning ?? false}
            square={squareEnds}
          />
        ))
      )}
      {(middle || along) && <Middle line={line} text={middle} bands={along} place={place} />}
      <EndText end={line.a} label={labelA} full={selected && line.medium !== 'wireless'} />
      <EndText end={line.b} label={labelB} full={selected && line.medium !== 'wireless'} />
    </g>
  );
}, sameLink);

/** Short on the drawing, full where the link is chosen. */
function EndText({ end, label, full }: { end: LinkLine['a']; label: Label | undefined; full: boolean }) {
  if (full) {
    // In full it is written in any case, beside its chip where it has no place of its own.
    const at = label
      ? { x: fullLabelBox(end, label).x, y: label.y }
      : { x: end.x + (end.side === 'left' ? -9 : 9), y: end.y + (end.side === 'top' ? -9 : 17) };
    return (
      <text className="full" x={at.x} y={at.y} textAnchor={!label && end.side === 'left' ? 'end' : 'start'}>
        {end.full}
      </text>
    );
  }
  return (
    label && (
      <text x={label.x} y={label.y}>
        {end.text}
      </text>
    )
  );
}

function Chip({ end: { x, y }, mark, state, warning, square }: ChipProps) {
  return (
    <>
      {mark && <rect className={`port-mark ${mark}`} x={x - 9} y={y - 9} width={18} height={18} rx={5} />}
      <rect
        className={`chip ${state && !square ? state : 'plain'}${warning ? ' warning' : ''}`}
        x={x - 4.25}
        y={y - 4.25}
        width={8.5}
        height={8.5}
        rx={square ? 0 : 2.5}
      />
      {state === 'crossed' && (
        <path
          className="cross"
          d={`M${x - 6.5} ${y - 6.5}L${x + 6.5} ${y + 6.5}M${x + 6.5} ${y - 6.5}L${x - 6.5} ${y + 6.5}`}
        />
      )}
    </>
  );
}

interface ChipProps {
  end: LinkLine['a'];
  mark: Mark | null;
  state: ChipState | null;
  warning: boolean;
  square: boolean;
}

const BAND = 3.2;
const MOST_BANDS = 6;
/** VLANs or domains as bands side by side along the line, ascending from the left or from above. */
function bandPaths(line: LinkLine, bands: string): { tone: string; d: string }[] {
  const tones = bands
    ? bands
        .split(',')
        .slice(0, MOST_BANDS)
        .map((part) => part.split(' ')[1]!)
    : [];
  const { across } = stationAt(line.points, lengthOf(line.points) / 2);
  const sign = across.x < 0 || (across.x === 0 && across.y < 0) ? -1 : 1;
  return tones.map((tone, at) => {
    const shift = sign * (at - (tones.length - 1) / 2) * BAND;
    const points = line.points.map(({ x, y }) => `${x + across.x * shift} ${y + across.y * shift}`);
    return { tone, d: `M${points.join('L')}` };
  });
}

const BADGE = 27;

/** How much room the middles of links take with what the lenses write there. */
export function middleSizes(
  topology: Topology,
  facts: Readonly<Record<string, LinkFact>> | null,
  lenses: Lenses,
): ReadonlyMap<string, { width: number; height: number }> | undefined {
  const { cables, ids, speeds, field } = lenses;
  const bands = bandsOf(topology, facts, lenses);
  const isWritten = Object.values(topology.links).some(({ label }) => label?.trim());
  if (!cables && !ids && !speeds && !field && !bands && !isWritten) return undefined;
  return new Map(
    Object.keys(topology.links).flatMap((id) => {
      const text = middleOf(topology, id, facts?.[id] ?? null, lenses);
      const badges = bands?.get(id)?.length ?? 0;
      const size = { width: Math.max(wordWidth(text), badges * BADGE), height: text && badges ? 34 : 16 };
      return size.width ? [[id, size] as const] : [];
    }),
  );
}

/** The words and badges in the middle of a link. */
function Middle({ line, text, bands, place }: { line: LinkLine; text: string; bands: string; place: number }) {
  const { x, y } = stationAt(line.points, lengthOf(line.points) * place);
  const badges = bands ? bands.split(',').map((part) => part.split(' ') as [string, string]) : [];
  const textWidth = wordWidth(text);
  // Side by side they would lie on the labels of neighbours: the badges stand under the words.
  const [textY, badgeY] = text && badges.length ? [y - 9, y + 8] : [y, y];
  const left = x - (badges.length * BADGE) / 2;
  return (
    <g>
      {text && (
        <>
          <rect
            className="tag-box"
            x={x - textWidth / 2}
            y={textY - 8}
            width={textWidth}
            height={16}
            rx={4}
            style={line.tint === null ? undefined : { fill: `var(--vlan-${line.tint})`, stroke: 'none' }}
          />
          <text
            className="tag"
            x={x}
            y={textY + 3.5}
            style={line.tint === null ? undefined : { fill: `var(--on-vlan-${line.tint})` }}
          >
            {text}
          </text>
        </>
      )}
      {badges.map(([vlan, tone], at) => {
        const start = left + at * BADGE;
        return (
          <g key={vlan}>
            <rect
              className="vlan-tag"
              x={start + 1}
              y={badgeY - 8}
              width={BADGE - 2}
              height={16}
              rx={4}
              style={{ fill: `var(--vlan-${tone})` }}
            />
            <text className="tag" x={start + BADGE / 2} y={badgeY + 3.5} style={{ fill: `var(--on-vlan-${tone})` }}>
              {vlan}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** Wireless has no line: the same lettered badge at both ends, joined by a faint thread while it is chosen. */
function Badges({ line, selected }: { line: LinkLine; selected: boolean }) {
  const letter = wirelessLetter(line.id);
  return (
    <>
      {selected && (
        <path
          d={`M${line.a.x} ${line.a.y}L${line.b.x} ${line.b.y}`}
          className="wire"
          strokeWidth={1.25}
          strokeDasharray="1 5"
        />
      )}
      {[line.a, line.b].map(({ x, y }, at) => (
        <g key={at}>
          <circle className="letter" cx={x} cy={y} r={6.5} />
          <text className="letter-text" x={x} y={y + 3.5}>
            {letter}
          </text>
        </g>
      ))}
    </>
  );
}
