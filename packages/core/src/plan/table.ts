import { type Family, formatAddress, formatPrefix, formatRange, parsePrefix } from '../address';
import { type Block, type Brief, type Plan } from './schema';
import { gatewayOf, rangesIn, readRanges } from './subnet';
import { type PlanTree, isSubnet } from './tree';

/** One line of the address table that goes to the printer and onto the drawing: a subnet with all that one looks up. */
export interface TableLine {
  id: string;
  name: string;
  site: string;
  vlan: number | null;
  /** Which of the eight VLAN tones it has; null for a subnet without a VLAN. */
  tone: number | null;
  subnet: string;
  subnet6: string;
  gateway: string;
  gateway6: string;
  pool: string;
}

/** The tone of a subnet's VLAN: as set by hand, else by its place among the VLAN numbers of the plan. */
export function vlanTones(plan: Plan): (block: Block) => number | null {
  const numbers = [...new Set(Object.values(plan.blocks).flatMap((block) => block.vlan ?? []))].sort((a, b) => a - b);
  return (block) => (block.vlan === undefined ? null : (block.tone ?? (numbers.indexOf(block.vlan) % 8) + 1));
}

/** "Group – VLAN – subnet – gateway – pool – colour", in the order of the plan. */
export function addressTable(tree: PlanTree, brief: Brief): TableLine[] {
  const ranges = readRanges(tree);
  const toneOf = vlanTones(tree.plan);
  return tree.order.flatMap((id): TableLine[] => {
    const node = tree.nodes.get(id)!;
    const { block, space } = node;
    if (!isSubnet(node) || block.standing === 'kept-free' || !(space[4] ?? space[6])) return [];
    const gateway = (family: Family): string => {
      const own = space[family] && gatewayOf(block, space[family], brief);
      return own ? formatAddress(own) : '';
    };
    const pools = [space[4], space[6]].flatMap((prefix) =>
      prefix ? rangesIn(ranges, prefix).filter((range) => range.range.use === 'pool') : [],
    );
    return [
      {
        id,
        name: brief.groups?.find((group) => group.id === block.group)?.name ?? block.name,
        site: block.site ?? '',
        vlan: block.vlan ?? null,
        tone: toneOf(block),
        subnet: space[4] ? formatPrefix(space[4]) : '',
        subnet6: space[6] ? formatPrefix(space[6]) : '',
        gateway: gateway(4),
        gateway6: gateway(6),
        pool: pools.map((pool) => formatRange(pool.span)).join(', '),
      },
    ];
  });
}

/** The address table as lines of text, for the legend of a drawing. */
export const LEGEND_TITLE = 'Subnets';
/** The plan as the lines of a legend: name, VLAN, subnets and gateway of each. */
export function legendText(tree: PlanTree, brief: Brief): string {
  const lines = addressTable(tree, brief).map((line) =>
    [
      line.name,
      ...(line.vlan === null ? [] : [`VLAN ${line.vlan}`]),
      ...[line.subnet, line.subnet6].filter(Boolean),
      ...[line.gateway, line.gateway6].filter(Boolean).map((gateway) => `gateway ${gateway}`),
      ...(line.pool ? [`pool ${line.pool}`] : []),
    ].join(' · '),
  );
  return lines.length ? [`${LEGEND_TITLE}:`, ...lines].join('\n') : '';
}

/** A legend with its table of subnets replaced; what else stands in it is kept. */
export function withLegend(legend: string | undefined, text: string): string {
  const others = (legend ?? '').split('\n\n').filter((part) => !part.startsWith(`${LEGEND_TITLE}:\n`) && part.trim());
  return [...others, ...(text ? [text] : [])].join('\n\n');
}

/** What a prefix text stands for in the plan: its block's id, for choosing a block where a prefix is asked for. */
export function blocksForChoice(tree: PlanTree): { id: string; prefix: string; name: string }[] {
  return tree.order.flatMap((id) => {
    const { block } = tree.nodes.get(id)!;
    return [block.prefix, block.prefix6].flatMap((text) =>
      text !== undefined && parsePrefix(text).ok ? [{ id, prefix: text, name: block.name }] : [],
    );
  });
}
