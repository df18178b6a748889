import { type Prefix, formatAddress, formatPrefix, overlaps, parseAddress, parsePrefix } from '../address';
import { type PlanCommand, type SimplePlanCommand, applyPlanCommand } from './commands';
import { type Block, type Brief, type Plan } from './schema';
import { nextFreeIn } from './subnet';
import { blockAt, freeIn, planTree } from './tree';

/** Something that two people took at the same time, with both takers. */
export interface Meeting {
  /** The address or the space. */
  what: string;
  mine: string;
  theirs: string;
}

export interface Rebased {
  /** What of my changes goes onto the other version as it is. */
  kept: PlanCommand[];
  met: Meeting[];
  /** For each thing that met and has one: the next free one, taken instead. */
  instead: PlanCommand[];
}

/**
 * Puts changes that were made beside others onto the others' version: all that goes, and a list of what both took. Nobody's
 * address is given to another; `instead` offers the next free ones.
 */
export function rebase(theirs: Plan, commands: readonly PlanCommand[], brief: Brief): Rebased {
  const kept: PlanCommand[] = [];
  const met: Meeting[] = [];
  const lost: SimplePlanCommand[] = [];
  let at = theirs;
  const simple = commands
    .flatMap((command) => (command.kind === 'batch' ? command.commands : [command]))
    .flatMap(singly);
  const mine = new Set(simple.flatMap((command) => (command.kind === 'addBlock' ? [command.id] : [])));
  for (const command of simple) {
    const meeting = meetingOf(at, command, mine);
    const done = meeting ? null : applyPlanCommand(at, command);
    if (done?.ok) {
      at = done.value.document;
      kept.push(command);
    } else {
      met.push(meeting ?? { what: 'a change', mine: command.kind, theirs: done && !done.ok ? done.error : '' });
      if (meeting) lost.push(command);
    }
  }
  const instead: PlanCommand[] = [];
  for (const command of lost) {
    const other = insteadOf(at, command, brief);
    const done = other && applyPlanCommand(at, other);
    if (!other || !done?.ok) continue;
    at = done.value.document;
    instead.push(other);
  }
  return { kept, met, instead };
}

/** Addresses that were taken together are looked at one by one. */
const singly = (command: SimplePlanCommand): SimplePlanCommand[] =>
  command.kind === 'takeAddresses'
    ? Object.entries(command.addresses).map(([key, entry]) => ({ kind: 'takeAddresses', addresses: { [key]: entry } }))
    : [command];

function meetingOf(at: Plan, command: SimplePlanCommand, mine: ReadonlySet<string>): Meeting | null {
  if (command.kind === 'takeAddresses') {
    const [key, entry] = Object.entries(command.addresses)[0]!;
    const other = at.addresses?.[key];
    return other ? { what: key, mine: entry.name, theirs: other.name } : null;
  }
  if (command.kind !== 'addBlock') return null;
  const own = spaces(command.block);
  const inside = (other: Block): boolean =>
    spaces(other).some((space) => own.some((each) => overlaps(space, each) && space.length >= each.length));
  const other = Object.entries(at.blocks).find(([id, block]) => !mine.has(id) && inside(block))?.[1];
  return other ? { what: own.map(formatPrefix).join(', '), mine: command.block.name, theirs: other.name } : null;
}

const spaces = (block: Block): Prefix[] =>
  [block.prefix, block.prefix6].flatMap((text) => {
    const read = text === undefined ? null : parsePrefix(text);
    return read?.ok ? [read.value] : [];
  });

function insteadOf(at: Plan, command: SimplePlanCommand, brief: Brief): SimplePlanCommand | null {
  const tree = planTree(at);
  if (command.kind === 'takeAddresses') {
    const [key, entry] = Object.entries(command.addresses)[0]!;
    const address = parseAddress(key);
    const node = address.ok ? blockAt(tree, address.value) : null;
    const free = node && address.ok ? nextFreeIn(tree, node, address.value.family, brief) : null;
    return free && { kind: 'takeAddresses', addresses: { [formatAddress(free)]: entry } };
  }
  if (command.kind !== 'addBlock') return null;
  const moved: Partial<Block> = {};
  for (const property of ['prefix', 'prefix6'] as const) {
    const read = command.block[property] === undefined ? null : parsePrefix(command.block[property]);
    if (!read?.ok) continue;
    const { family, length, value } = read.value;
    let parent = blockAt(tree, { family, value });
    while (parent && parent.space[family]!.length >= length)
      parent = parent.parents[family] === null ? null : tree.nodes.get(parent.parents[family])!;
    const free = parent && freeIn(tree, parent.id, family)?.next(length);
    if (!free) return null;
    moved[property] = formatPrefix(free);
  }
  return { ...command, block: { ...command.block, ...moved } };
}
