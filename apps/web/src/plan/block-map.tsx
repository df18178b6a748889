import { Box } from '@mui/material';
import { type MouseEvent, memo } from 'react';
import './plan.css';
import { type Family, type Prefix, formatPrefix, sizeOf } from '@sobrin/core/address';
import { type PlanNode, type PlanTree, freeIn, mainFamily, vlanTones } from '@sobrin/core/plan';
import { shortSix } from './plan-rows';

interface MapProps {
  tree: PlanTree;
  /** The block that is looked at; the block around it is opened below. */
  chosen: string | null;
  /** Null where the map is only looked at. */
  onChoose: ((id: string) => void) | null;
  /** Space that is free was chosen; absent where nothing may be changed. */
  onFree?: (within: string, prefix: Prefix) => void;
}

const SITE_TONES = ['site-a', 'site-b', 'site-c', 'site-d'];
const ANCESTORS_SHOWN = 2;
/** Share of the map, in per cent, below which a part is smaller than a target should be (WCAG 2.5.8). */
const NARROW = 2.5;
/** Below this share a part is only a line. */
const THIN = 0.5;

/** The blocks to scale: the root over the whole width, and below it each opened block over the whole width again. */
export const BlockMap = memo(function BlockMap({ tree, chosen, onChoose, onFree }: MapProps) {
  const levels = levelsOf(tree, chosen);
  if (!levels.length) return null;
  return (
    <Box
      component="section"
      aria-label="Map of the blocks"
      sx={{ px: 2, py: 1.25, borderBottom: '1px solid var(--line)', background: 'var(--canvas)' }}
    >
      {levels.map((node, at) => (
        <Box key={node.id}>
          {at > 0 && <Funnel outer={levels[at - 1]!} inner={node} />}
          <Strip
            tree={tree}
            node={node}
            chosen={chosen}
            onChoose={onChoose}
            onFree={onFree}
            path={levels.map((level) => level.id)}
          />
        </Box>
      ))}
    </Box>
  );
});

/** The divided blocks around the chosen one, from the root inwards; the last two where there are more. */
function levelsOf(tree: PlanTree, chosen: string | null): PlanNode[] {
  const path: PlanNode[] = [];
  for (
    let at = chosen === null ? undefined : tree.nodes.get(chosen);
    at;
    at = at.parent === null ? undefined : tree.nodes.get(at.parent)
  )
    path.unshift(at);
  if (!path.length) {
    const largest = tree.roots.map((id) => tree.nodes.get(id)!).find((node) => node.children.length);
    if (largest) path.push(largest);
  }
  const divided = path.filter((node) => node.children.length && node.space[mainFamily(node)]);
  return divided.slice(-ANCESTORS_SHOWN);
}

/** Share of a block's start and size in another, in per cent. */
function placeIn(outer: Prefix, inner: Prefix): { left: number; width: number } {
  const whole = sizeOf(outer);
  const share = (value: bigint): number => Number((value * 1_000_000n) / whole) / 10_000;
  return { left: share(inner.value - outer.value), width: share(sizeOf(inner)) };
}

function Strip({
  tree,
  node,
  chosen,
  onChoose,
  onFree,
  path,
}: MapProps & { node: PlanNode; path: readonly string[]; onFree: MapProps['onFree'] | undefined }) {
  const family: Family = mainFamily(node);
  const outer = node.space[family]!;
  const toneOf = vlanTones(tree.plan);
  const sites = [...new Set([...tree.nodes.values()].flatMap((node) => node.block.site ?? []))];
  const parts = node.children.flatMap((id) => {
    const child = tree.nodes.get(id)!;
    const own = child.space[family];
    return own ? [{ child, own }] : [];
  });
  const free = freeIn(tree, node.id, family)?.all ?? [];
  const placed = parts.map((part) => ({ ...part, ...placeIn(outer, part.own) }));
  const thin = placed.filter((part) => part.width < THIN);
  return (
    <div className="map-strip" role="group" aria-label={`Inside ${node.block.name}`}>
      {free.map((prefix) => {
        const { left, width } = placeIn(outer, prefix);
        if (width < THIN) return null;
        const text = formatPrefix(prefix);
        return (
          <Cell
            key={text}
            left={left}
            width={width}
            label={`Free: ${text}, ${sizeOf(prefix)} addresses${onFree ? '. Put a block there' : ''}`}
            disabled={!onFree}
            onClick={() => onFree?.(node.id, prefix)}
            className="free"
            title="free"
            under={text}
          />
        );
      })}
      {placed.map(({ child, own, left, width }) => {
        if (width < THIN) return null;
        const { block } = child;
        const tone = toneOf(block);
        return (
          <Cell
            key={child.id}
            left={left}
            width={width}
            label={`${block.name}, ${formatPrefix(own)}`}
            pressed={child.id === chosen}
            disabled={!onChoose}
            onClick={() => onChoose?.(child.id)}
            title={block.name}
            under={family === 6 ? shortSix(formatPrefix(own), tree) : formatPrefix(own)}
            className={[
              block.standing === 'kept-free' && 'kept-free',
              block.standing === 'being-vacated' && 'vacated',
              (path.includes(child.id) || child.id === chosen) && 'open',
              child.id === chosen && 'chosen',
            ]
              .filter(Boolean)
              .join(' ')}
            ground={block.site === undefined ? undefined : `var(--${SITE_TONES[sites.indexOf(block.site) % 4]})`}
            band={tone === null ? undefined : `var(--vlan-${tone})`}
          />
        );
      })}
      {thin.length > 0 && <ThinParts parts={thin} chosen={chosen} onChoose={onChoose} />}
    </div>
  );
}

/** Parts too thin for words, all in one drawing: a click finds the nearest. The tree below names every one of them. */
function ThinParts({
  parts,
  chosen,
  onChoose,
}: {
  parts: readonly { child: PlanNode; left: number; width: number }[];
  chosen: string | null;
  onChoose: MapProps['onChoose'];
}) {
  const nearest = ({ clientX, currentTarget }: MouseEvent<SVGSVGElement>): void => {
    const box = currentTarget.getBoundingClientRect();
    const at = ((clientX - box.left) / box.width) * 100;
    const away = (part: { left: number; width: number }): number => Math.abs(part.left + part.width / 2 - at);
    const best = parts.reduce((a, b) => (away(b) < away(a) ? b : a));
    if (away(best) < 1) onChoose?.(best.child.id);
  };
  const bars = (list: typeof parts): string =>
    list
      .map(({ left, width }) => `M${left} 0h${Math.max(0.12, width - 0.04)}v46h${-Math.max(0.12, width - 0.04)}z`)
      .join('');
  return (
    <svg className="map-thin" viewBox="0 0 100 46" preserveAspectRatio="none" aria-hidden onClick={nearest}>
      <path d={bars(parts.filter((part) => part.child.id !== chosen))} fill="var(--ink3)" opacity={0.55} />
      <path d={bars(parts.filter((part) => part.child.id === chosen))} fill="var(--spruce)" />
    </svg>
  );
}

function Cell({
  left,
  width,
  label,
  title,
  under,
  pressed,
  disabled = false,
  onClick,
  className,
  ground,
  band,
}: {
  left: number;
  width: number;
  label: string;
  title: string;
  under: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick: () => void;
  className: string;
  ground?: string | undefined;
  /** The tone of its VLAN, along the lower edge. */
  band?: string | undefined;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={pressed}
      title={label}
      disabled={disabled}
      // Too narrow to be aimed at: the same block stands in the tree below, where every key reaches it.
      tabIndex={width < NARROW ? -1 : 0}
      onClick={onClick}
      className={`map-cell ${className}`}
      style={{
        left: `${left}%`,
        width: `max(4px, calc(${width}% - 2px))`,
        borderRadius: width > 3 ? 8 : 3,
        ...(ground !== undefined &&
          !className.includes('chosen') &&
          !/kept-free|vacated/.test(className) && { background: ground }),
        ...(band !== undefined && { borderBottom: `4px solid ${band}` }),
      }}
    >
      <span className="words">
        <b>{title}</b> <span className="mono">{under}</span>
      </span>
    </button>
  );
}

/** Lines from the ends of a block in the strip above to the ends of the strip that shows it opened. */
function Funnel({ outer, inner }: { outer: PlanNode; inner: PlanNode }) {
  const family = mainFamily(outer);
  const [whole, part] = [outer.space[family], inner.space[family]];
  if (!whole || !part) return <Box sx={{ height: 14 }} />;
  const { left, width } = placeIn(whole, part);
  return (
    <Box
      component="svg"
      aria-hidden
      viewBox="0 0 100 14"
      preserveAspectRatio="none"
      sx={{ display: 'block', width: '100%', height: 14 }}
    >
      <polygon points={`${left},0 ${left + width},0 100,14 0,14`} fill="var(--spruce-tint)" opacity={0.6} />
      <path
        d={`M${left} 0 0 14M${left + width} 0 100 14`}
        stroke="var(--spruce)"
        strokeWidth={1}
        vectorEffect="non-scaling-stroke"
        opacity={0.6}
      />
    </Box>
  );
}
