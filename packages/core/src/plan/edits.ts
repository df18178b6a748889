import { type Family, type Prefix, formatAddress, formatPrefix, parseAddress, parseRange, rangeSize } from '../address';
import { type Result, fail, ok } from '../result';
import { type PlanCommand, type SimplePlanCommand } from './commands';
import { type Division } from './divide';
import { type Block, type Brief } from './schema';
import { type SubnetNeed, VOICE } from './sizing';
import { type ReadRange, isGivenOut, isMeantAsSubnet, nextFreeIn } from './subnet';
import { type PlanNode, type PlanTree, freeIn, mainFamily } from './tree';

/** What people do in a plan, as commands. Pure: the plan and what is meant go in, commands come out. */

/** Blocks and ranges of a division, with ids of their own. */
export function divisionCommands(
  division: Division,
  newId: () => string,
): { ids: string[]; commands: SimplePlanCommand[] } {
  const ids: string[] = [];
  const blocks = division.blocks.map((block): SimplePlanCommand => {
    const id = newId();
    ids.push(id);
    return { kind: 'addBlock', id, block };
  });
  const ranges = division.ranges.map((set): SimplePlanCommand => ({ kind: 'setRange', id: newId(), set }));
  return { ids, commands: [...blocks, ...ranges] };
}

/** A new block in free space that was pointed at, with a place in the other family beside it where the block around has one. */
export function newBlockIn(tree: PlanTree, within: string | null, prefix: Prefix | null): Block {
  const parent = within === null ? null : tree.nodes.get(within);
  const { family } = prefix ?? { family: 4 as Family };
  const six =
    parent && family === 4 && parent.space[6]
      ? freeIn(tree, parent.id, 6)?.next(Math.max(64, parent.space[6].length))
      : null;
  return {
    prefix: prefix ? formatPrefix(prefix) : '',
    ...(six && { prefix6: formatPrefix(six) }),
    name: 'New block',
    standing: 'proposed',
    ...(parent?.block.site !== undefined && { site: parent.block.site }),
  };
}

/** The block in which a subnet of a group is best looked for: its site's, else the largest free space there is. */
export function placeForNeed(tree: PlanTree, need: SubnetNeed): { within: PlanNode; block: Block } | null {
  const fits = [...tree.nodes.values()].filter((node) => {
    const free =
      node.space[4] && !isMeantAsSubnet(node.block) && isGivenOut(node.block) ? freeIn(tree, node.id, 4) : null;
    return free?.next(need.length);
  });
  const own = fits.filter((fit) => fit.block.site === need.site);
  const open = fits.filter((fit) => fit.block.site === undefined);
  const candidates = own.length ? own : open;
  const within = candidates.sort((a, b) => b.depth - a.depth)[0];
  const free = within && freeIn(tree, within.id, 4)!.tightest(need.length);
  if (!within || !free) return null;
  return {
    within,
    block: {
      ...newBlockIn(tree, within.id, free),
      name: need.name,
      ...(need.site !== undefined && { site: need.site }),
      ...(need.group ? { group: need.group.id } : { purpose: VOICE }),
    },
  };
}

/** "10.84.1.9" or "10.84.1.9-14" as addresses to be taken, all of one name or numbered; nothing typed takes the next free one. */
export function takeTypedAddresses(
  tree: PlanTree,
  node: PlanNode,
  text: string,
  name: string,
  brief: Brief,
  ranges: readonly ReadRange[],
): Result<{ command: PlanCommand; first: string }, string> {
  const typed = text.trim();
  if (typed === '') {
    const free = nextFreeIn(tree, node, mainFamily(node), brief, ranges);
    if (!isGivenOut(node.block))
      return fail(
        `${node.block.name} is ${node.block.standing === 'kept-free' ? 'kept free' : 'being vacated'}: no address of it is offered.`,
      );
    if (!free) return fail(`${node.block.name} has no free address left.`);
    const key = formatAddress(free);
    return ok({ command: { kind: 'takeAddresses', addresses: { [key]: { name } } }, first: key });
  }
  const single = parseAddress(typed);
  if (single.ok) {
    const key = formatAddress(single.value);
    return ok({ command: { kind: 'takeAddresses', addresses: { [key]: { name } } }, first: key });
  }
  const range = parseRange(typed);
  if (!range.ok) return fail(/-|–|\bto\b/.test(typed) ? range.error.text : single.error.text);
  const size = rangeSize(range.value);
  if (size > 4096n) return fail(`${size} addresses are too many to list one by one: set the range aside instead.`);
  const { family, value } = range.value.from;
  const addresses = Object.fromEntries(
    Array.from({ length: Number(size) }, (_, at) => [
      formatAddress({ family, value: value + BigInt(at) }),
      { name: name ? `${name}-${at + 1}` : '' },
    ]),
  );
  return ok({ command: { kind: 'takeAddresses', addresses }, first: formatAddress(range.value.from) });
}

/** The commands that remove what is chosen: an address, a range, or blocks with all that lies in them. */
export function removePlanned(
  tree: PlanTree,
  selection: { blocks: readonly string[]; address: string | null; range: string | null },
): SimplePlanCommand[] {
  if (selection.address !== null) return [{ kind: 'freeAddresses', addresses: [selection.address] }];
  if (selection.range !== null) return [{ kind: 'setRange', id: selection.range, set: null }];
  const ids = new Set<string>();
  const visit = (id: string): void => {
    ids.add(id);
    for (const child of tree.nodes.get(id)?.children ?? []) visit(child);
  };
  for (const id of selection.blocks) visit(id);
  return ids.size ? [{ kind: 'removeBlocks', ids: [...ids] }] : [];
}

/** Blocks and addresses that commands which the server has not confirmed yet take or change. */
export function touchedBy(commands: readonly PlanCommand[]): ReadonlySet<string> {
  const waiting = new Set<string>();
  for (const command of commands.flatMap((each) => (each.kind === 'batch' ? each.commands : [each])))
    if (command.kind === 'takeAddresses') for (const key of Object.keys(command.addresses)) waiting.add(key);
    else if (command.kind === 'addBlock' || command.kind === 'setBlock') waiting.add(command.id);
  return waiting;
}
