import { Box } from '@mui/material';
import {
  type Family,
  type PlanNode,
  type PlanTree,
  type Prefix,
  formatPrefix,
  freeIn,
  mainFamily,
  sizeOf,
  vlanTones,
} from '@sobrin/core';
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

/** The blocks to scale: the root over the whole width, and below it each opened block over the whole width again. */
export function BlockMap({ tree, chosen, onChoose, onFree }: MapProps) {
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
            path={levels.map((one) => one.id)}
          />
        </Box>
      ))}
    </Box>
  );
}

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
    const largest = tree.roots.map((id) => tree.nodes.get(id)!).find((one) => one.children.length);
    if (largest) path.push(largest);
  }
  const divided = path.filter((one) => one.children.length && one.space[mainFamily(one)]);
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
  const sites = [...new Set([...tree.nodes.values()].flatMap((one) => one.block.site ?? []))];
  const parts = node.children.flatMap((id) => {
    const child = tree.nodes.get(id)!;
    const own = child.space[family];
    return own ? [{ child, own }] : [];
  });
  const free = freeIn(tree, node.id, family)?.all ?? [];
  return (
    <Box role="group" aria-label={`Inside ${node.block.name}`} sx={{ position: 'relative', height: 46 }}>
      {free.map((prefix) => {
        const { left, width } = placeIn(outer, prefix);
        const text = formatPrefix(prefix);
        return (
          <Cell
            key={text}
            left={left}
            width={width}
            label={`Free: ${text}, ${sizeOf(prefix)} addresses${onFree ? '. Put a block there' : ''}`}
            disabled={!onFree}
            onClick={() => onFree?.(node.id, prefix)}
            sx={{
              border: '1.5px dashed var(--line2)',
              background: 'repeating-linear-gradient(135deg, transparent 0 6px, var(--line) 6px 7px)',
              color: 'var(--ink2)',
            }}
            title="free"
            under={text}
          />
        );
      })}
      {parts.map(({ child, own }) => {
        const { left, width } = placeIn(outer, own);
        const { block } = child;
        const isOpen = path.includes(child.id) || child.id === chosen;
        const tone = toneOf(block);
        const keptFree = block.standing === 'kept-free';
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
            sx={{
              background: keptFree
                ? 'repeating-linear-gradient(135deg, var(--surface) 0 7px, var(--line) 7px 8px)'
                : block.site !== undefined
                  ? `var(--${SITE_TONES[sites.indexOf(block.site) % 4]})`
                  : 'var(--sunk)',
              border: isOpen ? '2px solid var(--spruce)' : '1.5px solid var(--line2)',
              ...(tone !== null && { borderBottom: `4px solid var(--vlan-${tone})` }),
              ...(child.id === chosen && { background: 'var(--spruce-tint)' }),
            }}
          />
        );
      })}
    </Box>
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
  sx,
}: {
  left: number;
  width: number;
  label: string;
  title: string;
  under: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick: () => void;
  sx: object;
}) {
  return (
    <Box
      component="button"
      type="button"
      aria-label={label}
      aria-pressed={pressed}
      title={label}
      disabled={disabled}
      // Too narrow to be aimed at: the same block stands in the tree below, where every key reaches it.
      tabIndex={width < NARROW ? -1 : 0}
      onClick={onClick}
      sx={{
        position: 'absolute',
        left: `${left}%`,
        width: `max(4px, calc(${width}% - 2px))`,
        top: 0,
        height: 46,
        borderRadius: width > 3 ? '8px' : '3px',
        font: 'inherit',
        fontSize: 12,
        lineHeight: '15px',
        textAlign: 'left',
        color: 'var(--ink)',
        cursor: disabled ? 'default' : 'pointer',
        overflow: 'hidden',
        whiteSpace: 'nowrap',
        p: 0,
        containerType: 'inline-size',
        '& .words': { display: 'block', px: '8px' },
        '@container (max-width: 44px)': { '& .words': { display: 'none' } },
        ...sx,
      }}
    >
      <span className="words">
        <b style={{ display: 'block', overflow: 'hidden', textOverflow: 'ellipsis' }}>{title}</b>
        <span className="mono" style={{ display: 'block', fontSize: 11, overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {under}
        </span>
      </span>
    </Box>
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
