import { type Family, contains, formatPrefix, parsePrefix, samePrefix } from '../../address';
import { isMeantAsSubnet } from '../subnet';
import { type PlanNode, type PlanTree, mainSpace } from '../tree';
import { type PlanProblem, spaces, named } from './problem';

export function unreadable({ id, block }: PlanNode): PlanProblem[] {
  return [block.prefix, block.prefix6].flatMap((text, at): PlanProblem[] => {
    if (text === undefined) return [];
    const read = parsePrefix(text);
    const whole = block.name.trim() || 'This block';
    if (!read.ok) return [{ code: 'PREFIX_UNREADABLE', text: `${whole}: ${read.error.text}`, at: { block: id } }];
    if (at === 1 && read.value.family === 4)
      return [{ code: 'PREFIX_UNREADABLE', text: `${whole}: ${text} stands in the IPv6 column.`, at: { block: id } }];
    return [];
  });
}

/** What is set aside for a site as a whole, and called so: no subnet itself. */
const isSiteBlock = ({ block }: PlanNode): boolean =>
  block.site !== undefined &&
  block.name.toLowerCase().includes(block.site.toLowerCase()) &&
  block.group === undefined &&
  block.vlan === undefined &&
  block.gateway === undefined;

/** The same prefix twice: blocks nest or are apart, so this is the only way in which two can overlap in part. */
export function twins(nodes: readonly PlanNode[]): PlanProblem[] {
  const seen = new Map<string, PlanNode>();
  return nodes.flatMap((node) =>
    spaces(node).flatMap((prefix): PlanProblem[] => {
      const text = formatPrefix(prefix);
      const first = seen.get(text);
      if (!first) {
        seen.set(text, node);
        return [];
      }
      const [a, b] = [first.block.site, node.block.site];
      // The block of a site may be as large as the only subnet in it.
      if (a !== undefined && a === b && isSiteBlock(first) !== isSiteBlock(node)) return [];
      return a !== undefined && b !== undefined && a !== b
        ? [
            {
              code: 'TWO_SITES',
              text: `${text} is at ${a} (${named(first)}) and at ${b} (${named(node)}): a subnet lies at one site.`,
              at: { block: node.id },
            },
          ]
        : [
            {
              code: 'OVERLAP',
              text: `${named(first)} and ${named(node)} overlap: both are ${text}. Move one of them.`,
              at: { block: node.id },
            },
          ];
    }),
  );
}

/** What is looked up for every block: the block of each site, and the families that have a divided root. */
export interface Homes {
  site: ReadonlyMap<string, PlanNode>;
  divided: ReadonlySet<Family>;
}
export const dividedFamily = (tree: PlanTree, id: string): Family[] => {
  const node = tree.nodes.get(id)!;
  const own = mainSpace(node);
  return own && node.children.length ? [own.family] : [];
};

export function nesting(tree: PlanTree, node: PlanNode, homes: Homes): PlanProblem[] {
  const problems: PlanProblem[] = [];
  const parent = node.parent === null ? null : tree.nodes.get(node.parent)!;
  const at = { block: node.id };
  const own = mainSpace(node);
  if (!own) return [];
  if (parent && isMeantAsSubnet(parent.block) && !twinOf(parent, node))
    problems.push({
      code: 'SUBNET_DIVIDED',
      text: `${named(node)} (${formatPrefix(own)}) lies inside ${named(parent)}, which is a subnet itself: the two overlap. Move one of them, or make ${named(parent)} smaller.`,
      at,
    });
  if (!problems.length && node.space[4] && node.space[6] && node.parents[4] !== node.parents[6]) {
    const [four, six] = [node.parents[4], node.parents[6]].map((id) =>
      id === null ? 'no other block' : named(tree.nodes.get(id)!),
    );
    problems.push({
      code: 'OUTSIDE_PARENT',
      text: `${named(node)}: its IPv4 prefix lies in ${four}, its IPv6 prefix in ${six}. Both belong into the same block.`,
      at,
    });
  }
  const { site } = node.block;
  const otherSite =
    site === undefined
      ? null
      : ancestors(tree, node).find((ancestor) => ancestor.block.site !== undefined && ancestor.block.site !== site);
  if (otherSite)
    problems.push({
      code: 'OUTSIDE_PARENT',
      text: `${named(node)} is at ${site}, but ${formatPrefix(own)} lies in the block of ${otherSite.block.site}.`,
      at,
    });
  const home = site === undefined ? undefined : homes.site.get(site);
  if (
    home &&
    !otherSite &&
    home !== node &&
    mainSpace(home)!.family === own.family &&
    !contains(mainSpace(home)!, own) &&
    !contains(own, mainSpace(home)!)
  )
    problems.push({
      code: 'OUTSIDE_PARENT',
      text: `${named(node)} is at ${site}, but ${formatPrefix(own)} lies outside its block ${formatPrefix(mainSpace(home)!)}.`,
      at,
    });
  if (!problems.length && !parent && !node.children.length && homes.divided.has(own.family))
    problems.push({
      code: 'OUTSIDE_ROOT',
      text: `${named(node)} (${formatPrefix(own)}) lies in no other block of the plan: take a free block inside one, or plan a block for it.`,
      at,
    });
  return problems;
}

const twinOf = (a: PlanNode, b: PlanNode): boolean => {
  const [x, y] = [mainSpace(a), mainSpace(b)];
  return x !== null && y !== null && samePrefix(x, y);
};

function ancestors(tree: PlanTree, node: PlanNode): PlanNode[] {
  const found: PlanNode[] = [];
  for (let id = node.parent; id !== null; id = tree.nodes.get(id)!.parent) found.push(tree.nodes.get(id)!);
  return found;
}

/** The block of each site: the largest one that is divided and stands for the site. */
export function siteBlocks(nodes: readonly PlanNode[]): Map<string, PlanNode> {
  const found = new Map<string, PlanNode>();
  for (const node of nodes) {
    const { site } = node.block;
    const own = mainSpace(node);
    if (site === undefined || !own || !node.children.length || isMeantAsSubnet(node.block)) continue;
    const before = found.get(site);
    if (!before || own.length < mainSpace(before)!.length) found.set(site, node);
  }
  return found;
}
