import { IconAlertTriangle, IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import './plan.css';
import { plural } from '@sobrin/core';
import { formatPrefix, formatRange } from '@sobrin/core/address';
import {
  type Block,
  type Brief,
  type PlanNode,
  type PlanProblem,
  type PlanTree,
  type ReadRange,
  type SubnetNeed,
  fillOf,
  isFor,
} from '@sobrin/core/plan';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, memo, useEffect, useMemo, useRef } from 'react';
import { useStable } from '../ui/use-stable';
import { FillBar } from './fill-bar';
import { type PlanRow, fillWords, shortSix } from './plan-rows';
import { type PlanSelection } from './plan-store';
import { StandingIcon } from './standing-icon';
import { VlanBadge } from '../ui/vlan-badge';

const ROW = 27;
export const RANGE_WORDS: Record<ReadRange['range']['use'], string> = {
  gateway: 'gateways',
  infrastructure: 'equipment',
  pool: 'DHCP pool',
  printers: 'printers',
  kept: 'set aside',
};

/** What the lines of the tree are made from. */
export interface PlanLook {
  tree: PlanTree;
  ranges: readonly ReadRange[];
  needs: readonly SubnetNeed[];
  brief: Brief;
  problems: ReadonlyMap<string, readonly PlanProblem[]>;
  toneOf: (block: Block) => number | null;
}

export interface PlanTreeTableProps extends PlanLook {
  rows: readonly PlanRow[];
  selection: PlanSelection;
  /** Blocks and addresses whose taking the server has not confirmed. */
  waiting: ReadonlySet<string>;
  onSelect: (selection: PlanSelection) => void;
  onOpen: (node: PlanNode, open: boolean) => void;
}

/** The plan from the top down: a tree of which only the lines in sight are in the page. */
export function PlanTreeTable(props: PlanTreeTableProps) {
  const { rows, selection, tree, ranges, needs, brief, problems, toneOf, waiting, onSelect, onOpen } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 6,
    getItemKey: (at) => rows[at]!.key,
    initialRect: { width: 600, height: 600 },
  });
  const hasSix = useMemo(() => [...tree.nodes.values()].some((node) => node.space[4] && node.space[6]), [tree]);
  const look = useMemo(
    () => ({ tree, ranges, needs, brief, problems, toneOf, hasSix }),
    [tree, ranges, needs, brief, problems, toneOf, hasSix],
  );
  const at = rows.findIndex((row) => isChosen(row, selection));
  useEffect(() => {
    if (at >= 0) virtual.scrollToIndex(at, { align: 'auto' });
    // Only when another line is chosen: scrolling by hand must not be undone.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [at]);
  const choose = useStable((row: PlanRow, more = false): void => {
    if (row.kind === 'address')
      onSelect({ blocks: row.block ? [row.block.id] : [], address: row.address, range: null });
    else if (row.kind === 'range')
      onSelect({ blocks: row.block ? [row.block.id] : [], address: null, range: row.range.id });
    else if (!more) onSelect({ blocks: [row.block.id], address: null, range: null });
    else {
      const { id } = row.block;
      const blocks = selection.blocks.includes(id)
        ? selection.blocks.filter((block) => block !== id)
        : [...selection.blocks, id];
      onSelect({ blocks, address: null, range: null });
    }
  });
  const openRow = useStable(onOpen);
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
  return (
    <div className={`plan-tree${hasSix ? ' with-six' : ''}`}>
      <div className="plan-line plan-head" aria-hidden>
        <span>Block</span>
        <span>{hasSix ? 'IPv4' : 'Prefix'}</span>
        {hasSix && <span>IPv6</span>}
        <span>VLAN</span>
        <span>Filled</span>
        <span />
        <span />
      </div>
      <div
        ref={scroller}
        className="plan-lines"
        role="tree"
        aria-label="Plan"
        aria-multiselectable
        aria-activedescendant={at >= 0 ? rowId(rows[at]!) : undefined}
        tabIndex={0}
        onKeyDown={onKeyDown}
      >
        <div style={{ position: 'relative', height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index]!;
            return (
              <PlanLine
                key={row.key}
                row={row}
                top={item.start}
                chosen={isChosen(row, selection)}
                waiting={waiting.has(row.kind === 'address' ? row.address : row.key)}
                look={look}
                onChoose={choose}
                onOpen={openRow}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}

interface LineProps {
  row: PlanRow;
  top: number;
  chosen: boolean;
  waiting: boolean;
  look: PlanLook & { hasSix: boolean };
  onChoose: (row: PlanRow, more?: boolean) => void;
  onOpen: (node: PlanNode, open: boolean) => void;
}

/** One line; choosing another one renders only the two that change. */
const PlanLine = memo(
  function PlanLine({ row, top, chosen, waiting, look, onChoose, onOpen }: LineProps) {
    return (
      <div
        id={rowId(row)}
        className={`plan-line${chosen ? ' chosen' : ''}${row.kind === 'block' ? '' : ' inner'}`}
        role="treeitem"
        aria-level={row.depth + 1}
        aria-selected={chosen}
        aria-expanded={row.kind === 'block' && row.opens ? row.open : undefined}
        aria-label={labelOf(row, look)}
        onClick={(event) => onChoose(row, event.ctrlKey || event.metaKey || event.shiftKey)}
        style={{ transform: `translateY(${top}px)` }}
      >
        {row.kind === 'block' ? (
          <BlockCells row={row} look={look} waiting={waiting} onOpen={onOpen} />
        ) : (
          <InnerCells row={row} look={look} waiting={waiting} />
        )}
      </div>
    );
  },
  (a, b) =>
    a.top === b.top && a.chosen === b.chosen && a.waiting === b.waiting && a.look === b.look && sameRow(a.row, b.row),
);

/** Rows are made anew with every change of what is seen; most of them say the same. */
const sameRow = (a: PlanRow, b: PlanRow): boolean =>
  a.key === b.key &&
  a.block === b.block &&
  (a.kind !== 'block' || b.kind !== 'block' || (a.open === b.open && a.opens === b.opens));

const rowId = (row: PlanRow): string => `plan-row-${row.key.replace(/[^\w-]/g, '_')}`;

function isChosen(row: PlanRow, { blocks, address, range }: PlanSelection): boolean {
  if (row.kind === 'address') return row.address === address;
  if (row.kind === 'range') return row.range.id === range;
  return address === null && range === null && blocks.includes(row.block.id);
}

function labelOf(row: PlanRow, { tree, problems }: PlanLook): string {
  if (row.kind === 'address') return `${row.address}, ${tree.plan.addresses?.[row.address]?.name ?? ''}`;
  if (row.kind === 'range') return `${formatRange(row.range.span)}, ${RANGE_WORDS[row.range.range.use]}`;
  const { block } = row.block;
  const wrong = problems.get(row.block.id)?.length ?? 0;
  return [
    block.name || 'no name',
    block.prefix,
    block.prefix6,
    block.vlan !== undefined && `VLAN ${block.vlan}`,
    wrong > 0 && plural(wrong, 'problem'),
  ]
    .filter(Boolean)
    .join(', ');
}

function InnerCells({
  row,
  look: { tree, hasSix },
  waiting,
}: {
  row: Exclude<PlanRow, { kind: 'block' }>;
  look: LineProps['look'];
  waiting: boolean;
}) {
  const entry = row.kind === 'address' ? tree.plan.addresses?.[row.address] : undefined;
  const text = row.kind === 'address' ? row.address : formatRange(row.range.span);
  return (
    <>
      <span className="clip" style={{ paddingLeft: row.depth * 14 + 20 }}>
        {row.kind === 'address' ? entry?.name || 'taken' : row.range.range.name || RANGE_WORDS[row.range.range.use]}
      </span>
      <span className="mono clip" style={{ gridColumn: hasSix ? 'span 2' : undefined }} title={text}>
        {text}
      </span>
      <span className="clip quiet" style={{ gridColumn: 'span 3' }}>
        {row.kind === 'address'
          ? [entry?.role, entry?.dns, entry?.note].filter(Boolean).join(', ')
          : row.range.range.name && RANGE_WORDS[row.range.range.use]}
      </span>
      {waiting ? <StandingIcon standing="proposed" waiting /> : <span />}
    </>
  );
}

function BlockCells({
  row,
  look,
  waiting,
  onOpen,
}: {
  row: PlanRow & { kind: 'block' };
  look: LineProps['look'];
  waiting: boolean;
  onOpen: LineProps['onOpen'];
}) {
  const { tree, ranges, needs, brief, problems, toneOf, hasSix } = look;
  const node = row.block;
  const { block, space } = node;
  const keptFree = block.standing === 'kept-free';
  const fill = keptFree ? null : fillOf(tree, node, brief, ranges);
  const need = needs.find((need) => isFor(block, need));
  const wrong = problems.get(node.id);
  const Arrow = row.open ? IconChevronDown : IconChevronRight;
  const divided = node.children.length > 0;
  return (
    <>
      <span className={`plan-name${keptFree ? ' quiet' : ''}`} style={{ paddingLeft: row.depth * 14 }}>
        <span
          className="plan-arrow"
          onClick={(event) => {
            event.stopPropagation();
            if (row.opens) onOpen(node, !row.open);
          }}
        >
          {row.opens && <Arrow size={14} />}
        </span>
        <span className="clip" style={{ fontWeight: divided ? 700 : 400 }} title={block.name}>
          {block.name || '(no name)'}
        </span>
        {wrong && (
          <span title={wrong.map((problem) => problem.text).join('\n')} style={{ flex: 'none', display: 'flex' }}>
            <IconAlertTriangle size={14} color="var(--brick)" aria-hidden />
          </span>
        )}
      </span>
      <span
        className={`mono clip${keptFree ? ' quiet' : ''}`}
        style={{ color: space[4] || space[6] ? undefined : 'var(--brick)' }}
        title={block.prefix}
      >
        {block.prefix || '(no prefix)'}
      </span>
      {hasSix && (
        <span className="mono clip quiet" title={block.prefix6}>
          {block.prefix6 === undefined ? '' : space[6] ? shortSix(formatPrefix(space[6]), tree) : block.prefix6}
        </span>
      )}
      <span>{block.vlan !== undefined && <VlanBadge vlan={block.vlan} tone={toneOf(block)} />}</span>
      {fill ? <FillBar fill={fill} later={divided ? undefined : need?.later.value} /> : <span />}
      <span className="mono clip quiet" style={{ fontSize: 11.5, textAlign: 'right' }}>
        {fill ? fillWords(fill) : ''}
      </span>
      <StandingIcon standing={block.standing ?? 'proposed'} waiting={waiting} />
    </>
  );
}
