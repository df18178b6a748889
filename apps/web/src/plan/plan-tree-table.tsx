import { Box } from '@mui/material';
import { IconAlertTriangle, IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import {
  type Brief,
  type PlanNode,
  type PlanProblem,
  type PlanTree,
  type ReadRange,
  type SubnetNeed,
  fillOf,
  formatPrefix,
  formatRange,
  vlanTones,
} from '@sobrin/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, useEffect, useMemo, useRef } from 'react';
import { FillBar } from './fill-bar';
import { type PlanRow, fillWords, shortSix } from './plan-rows';
import { type PlanSelection } from './plan-store';
import { StandingSign } from './standing-sign';
import { VlanBadge } from './vlan-badge';

const ROW = 27;
export const RANGE_WORDS: Record<ReadRange['range']['use'], string> = {
  gateway: 'gateways',
  infrastructure: 'equipment',
  pool: 'DHCP pool',
  printers: 'printers',
  kept: 'set aside',
};

export interface PlanTreeTableProps {
  tree: PlanTree;
  rows: readonly PlanRow[];
  ranges: readonly ReadRange[];
  needs: readonly SubnetNeed[];
  brief: Brief;
  problems: ReadonlyMap<string, readonly PlanProblem[]>;
  selection: PlanSelection;
  /** Blocks and addresses whose taking the server has not confirmed. */
  waiting: ReadonlySet<string>;
  onSelect: (selection: PlanSelection) => void;
  onOpen: (node: PlanNode, open: boolean) => void;
}

/** The plan from the top down: a tree of which only the lines in sight are in the page. */
export function PlanTreeTable(props: PlanTreeTableProps) {
  const { rows, selection, tree, onSelect, onOpen } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    getItemKey: (at) => rows[at]!.key,
    initialRect: { width: 600, height: 600 },
  });
  const hasSix = useMemo(() => [...tree.nodes.values()].some((one) => one.space[4] && one.space[6]), [tree]);
  const at = rows.findIndex((row) => isChosen(row, selection));
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
    // Only when another line is chosen: scrolling by hand must not be undone.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at]);
  const choose = (row: PlanRow, more = false): void => {
    if (row.kind === 'address')
      onSelect({ blocks: row.block ? [row.block.id] : [], address: row.address, range: null });
    else if (row.kind === 'range')
      onSelect({ blocks: row.block ? [row.block.id] : [], address: null, range: row.range.id });
    else if (!more) onSelect({ blocks: [row.block.id], address: null, range: null });
    else {
      const { id } = row.block;
      const blocks = selection.blocks.includes(id)
        ? selection.blocks.filter((one) => one !== id)
        : [...selection.blocks, id];
      onSelect({ blocks, address: null, range: null });
    }
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const row = rows[at];
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 15, PageUp: -15, Home: -rows.length, End: rows.length }[
      event.key
    ];
    if (step !== undefined && rows.length) {
      event.preventDefault();
      const next = rows[Math.min(rows.length - 1, Math.max(0, (at < 0 ? -1 : at) + step))]!;
      choose(next, event.shiftKey);
    } else if (row && (event.key === 'ArrowRight' || event.key === 'ArrowLeft')) {
      event.preventDefault();
      const opening = event.key === 'ArrowRight';
      if (row.kind === 'block' && row.opens && row.open !== opening) onOpen(row.block, opening);
      else if (!opening) {
        const parent = row.kind === 'block' ? row.block.parent : (row.block?.id ?? null);
        if (parent !== null) onSelect({ blocks: [parent], address: null, range: null });
      }
    }
  };
  const columns = hasSix
    ? 'minmax(120px, 1fr) 120px 84px 40px 60px 70px 16px'
    : 'minmax(140px, 1fr) 132px 40px 96px 78px 16px';
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Box
        aria-hidden
        sx={{
          display: 'grid',
          gridTemplateColumns: columns,
          gap: '6px',
          px: 1.5,
          height: 28,
          alignItems: 'center',
          flex: 'none',
          borderBottom: '1px solid var(--line2)',
          fontSize: 12,
          fontWeight: 650,
          color: 'var(--ink2)',
        }}
      >
        <span>Block</span>
        <span>{hasSix ? 'IPv4' : 'Prefix'}</span>
        {hasSix && <span>IPv6</span>}
        <span>VLAN</span>
        <span>Filled</span>
        <span />
        <span />
      </Box>
      <Box
        ref={scroller}
        role="tree"
        aria-label="Plan"
        aria-multiselectable
        aria-activedescendant={at >= 0 ? rowId(rows[at]!) : undefined}
        tabIndex={0}
        onKeyDown={onKeyDown}
        sx={{ flex: 1, minHeight: 0, overflow: 'auto', '&:focus-visible': { outlineOffset: -2 } }}
      >
        <Box sx={{ position: 'relative', height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index]!;
            return (
              <Box
                key={row.key}
                id={rowId(row)}
                role="treeitem"
                aria-level={row.depth + 1}
                aria-selected={isChosen(row, selection)}
                aria-expanded={row.kind === 'block' && row.opens ? row.open : undefined}
                aria-label={labelOf(row, props)}
                onClick={(event) => choose(row, event.ctrlKey || event.metaKey || event.shiftKey)}
                sx={{
                  position: 'absolute',
                  top: 0,
                  left: 0,
                  right: 0,
                  height: ROW,
                  transform: `translateY(${item.start}px)`,
                  display: 'grid',
                  gridTemplateColumns: columns,
                  gap: '6px',
                  alignItems: 'center',
                  px: 1.5,
                  cursor: 'default',
                  borderBottom: '1px solid var(--line)',
                  background: isChosen(row, selection)
                    ? 'var(--spruce-tint)'
                    : row.kind === 'block'
                      ? undefined
                      : 'var(--sunk)',
                  '& > *': { minWidth: 0 },
                }}
              >
                <Cells row={row} hasSix={hasSix} {...props} />
              </Box>
            );
          })}
        </Box>
      </Box>
    </Box>
  );
}

const rowId = (row: PlanRow): string => `plan-row-${row.key.replace(/[^\w-]/g, '_')}`;

function isChosen(row: PlanRow, { blocks, address, range }: PlanSelection): boolean {
  if (row.kind === 'address') return row.address === address;
  if (row.kind === 'range') return row.range.id === range;
  return address === null && range === null && blocks.includes(row.block.id);
}

function labelOf(row: PlanRow, { tree, problems }: PlanTreeTableProps): string {
  if (row.kind === 'address') return `${row.address}, ${tree.plan.addresses?.[row.address]?.name ?? ''}`;
  if (row.kind === 'range') return `${formatRange(row.range.span)}, ${RANGE_WORDS[row.range.range.use]}`;
  const { block } = row.block;
  const wrong = problems.get(row.block.id)?.length ?? 0;
  return [
    block.name || 'no name',
    block.prefix,
    block.prefix6,
    block.vlan !== undefined && `VLAN ${block.vlan}`,
    wrong > 0 && `${wrong} ${wrong === 1 ? 'problem' : 'problems'}`,
  ]
    .filter(Boolean)
    .join(', ');
}

const clip = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;

function Cells({ row, hasSix, ...props }: PlanTreeTableProps & { row: PlanRow; hasSix: boolean }) {
  if (row.kind === 'block') return <BlockCells node={row.block} row={row} hasSix={hasSix} {...props} />;
  const { tree, waiting } = props;
  const entry = row.kind === 'address' ? tree.plan.addresses?.[row.address] : undefined;
  const text = row.kind === 'address' ? row.address : formatRange(row.range.span);
  return (
    <>
      <span style={{ paddingLeft: row.depth * 14 + 20, ...clip }}>
        {row.kind === 'address' ? entry?.name || 'taken' : row.range.range.name || RANGE_WORDS[row.range.range.use]}
      </span>
      <span className="mono" style={{ fontSize: 12, gridColumn: hasSix ? 'span 2' : undefined, ...clip }} title={text}>
        {text}
      </span>
      <span style={{ gridColumn: 'span 3', color: 'var(--ink2)', fontSize: 12, ...clip }}>
        {row.kind === 'address' ? entry?.note : row.range.range.name && RANGE_WORDS[row.range.range.use]}
      </span>
      {row.kind === 'address' && waiting.has(row.address) ? <StandingSign standing="proposed" waiting /> : <span />}
    </>
  );
}

function BlockCells({
  node,
  row,
  hasSix,
  tree,
  ranges,
  needs,
  brief,
  problems,
  waiting,
  onOpen,
}: PlanTreeTableProps & { node: PlanNode; row: PlanRow & { kind: 'block' }; hasSix: boolean }) {
  const { block, space } = node;
  const fill = fillOf(tree, node, brief, ranges);
  const need = needs.find((one) => one.group && one.group.id === block.group);
  const wrong = problems.get(node.id);
  const Arrow = row.open ? IconChevronDown : IconChevronRight;
  const divided = node.children.length > 0;
  const quiet = block.standing === 'kept-free' ? 'var(--ink2)' : undefined;
  return (
    <>
      <span style={{ display: 'flex', alignItems: 'center', paddingLeft: row.depth * 14, gap: 4, color: quiet }}>
        <Box
          component="span"
          onClick={(event) => {
            event.stopPropagation();
            if (row.opens) onOpen(node, !row.open);
          }}
          sx={{
            width: 16,
            height: 24,
            display: 'grid',
            placeItems: 'center',
            flex: 'none',
            cursor: row.opens ? 'pointer' : undefined,
          }}
        >
          {row.opens && <Arrow size={14} />}
        </Box>
        <span style={{ fontWeight: divided ? 700 : 400, ...clip }} title={block.name}>
          {block.name || '(no name)'}
        </span>
        {wrong && (
          <IconAlertTriangle size={14} color="var(--brick)" style={{ flex: 'none' }} aria-hidden>
            <title>{wrong.map((one) => one.text).join('\n')}</title>
          </IconAlertTriangle>
        )}
      </span>
      <span
        className="mono"
        style={{ fontSize: 12, color: space[4] || space[6] ? quiet : 'var(--brick)', ...clip }}
        title={block.prefix}
      >
        {block.prefix || '(no prefix)'}
      </span>
      {hasSix && (
        <span className="mono" style={{ fontSize: 12, color: 'var(--ink2)', ...clip }} title={block.prefix6}>
          {block.prefix6 === undefined ? '' : space[6] ? shortSix(formatPrefix(space[6]), tree) : block.prefix6}
        </span>
      )}
      <span>{block.vlan !== undefined && <VlanBadge vlan={block.vlan} tone={vlanTones(tree.plan)(block)} />}</span>
      {fill && block.standing !== 'kept-free' ? (
        <FillBar fill={fill} later={divided ? undefined : need?.later.value} />
      ) : (
        <span />
      )}
      <span className="mono" style={{ fontSize: 11.5, textAlign: 'right', color: 'var(--ink2)', ...clip }}>
        {fill && block.standing !== 'kept-free' ? fillWords(fill) : ''}
      </span>
      <StandingSign standing={block.standing ?? 'proposed'} waiting={waiting.has(node.id)} />
    </>
  );
}
