import { type Static, Type } from '@sinclair/typebox';
import { type Prefix, bitGroups, formatAddress, parseAddress, parsePrefix } from '../address';
import { type Edit, type Planned, applying } from '../changes';
import { fail, ok, type Result } from '../result';
import { Changes, Closed, Id, Line, ListOf, Maybe, OrNull, entryOf } from '../topology';
import { ADDRESS_KEY, AddressMap, Block, Plan, PlanAddress, PlanRange } from './schema';

const AddressKey = Type.String({ pattern: ADDRESS_KEY });
const Simple = [
  Closed({ kind: Type.Literal('addBlock'), id: Id, block: Block }),
  Closed({ kind: Type.Literal('setBlock'), id: Id, set: Changes(Block.properties) }),
  Closed({ kind: Type.Literal('removeBlocks'), ids: ListOf(Id, 5000) }),
  Closed({ kind: Type.Literal('setRange'), id: Id, set: OrNull(PlanRange) }),
  Closed({ kind: Type.Literal('takeAddresses'), addresses: AddressMap }),
  Closed({ kind: Type.Literal('setAddress'), address: AddressKey, set: PlanAddress }),
  Closed({ kind: Type.Literal('freeAddresses'), addresses: ListOf(AddressKey, 100_000) }),
  Closed({ kind: Type.Literal('replace'), plan: Plan }),
  Closed({
    kind: Type.Literal('edits'),
    edits: ListOf(Closed({ path: ListOf(Type.String({ maxLength: 64 }), 8), value: Maybe(Type.Unknown()) }), 200_000),
  }),
] as const;
/** A single change of a plan, as it is sent and kept. */
export const SimplePlanCommand = Type.Union([...Simple]);
/** A change of a plan: a single one, or several that are made and undone together. */
export const PlanCommand = Type.Union([
  ...Simple,
  Closed({ kind: Type.Literal('batch'), title: Line, commands: ListOf(SimplePlanCommand, 20_000) }),
]);
export type SimplePlanCommand = Static<typeof SimplePlanCommand>;
export type PlanCommand = Static<typeof PlanCommand>;

const plan = (edits: Edit[], ...reads: string[][]): Result<Planned, string> => ok({ edits, reads });

function planOf(document: Plan, command: SimplePlanCommand): Result<Planned, string> {
  switch (command.kind) {
    case 'addBlock':
      return entryOf(document.blocks, command.id)
        ? fail(`There is a block "${command.id}" already.`)
        : plan([{ path: ['blocks', command.id], value: command.block }]);
    case 'setBlock':
      return entryOf(document.blocks, command.id)
        ? plan(
            Object.entries(command.set).map(([key, value]) => editOf(['blocks', command.id, key], value)),
            ['blocks', command.id],
          )
        : fail('The block is not there any more.');
    case 'removeBlocks':
      return command.ids.every((id) => entryOf(document.blocks, id))
        ? plan(command.ids.map((id) => ({ path: ['blocks', id] })))
        : fail('The block is not there any more.');
    case 'setRange':
      return plan([editOf(['ranges', command.id], command.set)]);
    case 'takeAddresses':
      return takeAddresses(document, command.addresses);
    case 'setAddress':
      return entryOf(document.addresses, command.address)
        ? plan([{ path: ['addresses', command.address], value: command.set }])
        : fail(`${command.address} is not in the plan any more.`);
    case 'freeAddresses': {
      const missing = command.addresses.find((address) => !entryOf(document.addresses, address));
      return missing === undefined
        ? plan(command.addresses.map((address) => ({ path: ['addresses', address] })))
        : fail(`${missing} is not in the plan any more.`);
    }
    case 'replace':
      return plan([{ path: [], value: command.plan }]);
    case 'edits':
      return plan(command.edits);
  }
}

const editOf = (path: string[], value: unknown): Edit =>
  value === null || value === undefined ? { path } : { path, value };

/** Gives addresses out: an address that somebody has is never given to another. */
function takeAddresses(document: Plan, addresses: Readonly<Record<string, PlanAddress>>): Result<Planned, string> {
  for (const key of Object.keys(addresses)) {
    const read = parseAddress(key);
    if (!read.ok) return fail(read.error.text);
    if (formatAddress(read.value) !== key) return fail(`"${key}" is written ${formatAddress(read.value)} in a plan.`);
    const taken = entryOf(document.addresses, key);
    if (taken) return fail(`${key} is taken by ${taken.name || 'somebody'}.`);
  }
  return plan(Object.entries(addresses).map(([key, value]) => ({ path: ['addresses', key], value })));
}

/**
 * Space as a path of bits: a block lies in another exactly when its path goes on from the other's. So two changes that
 * each put a block into the same space meet, whatever ids they gave.
 */
export const spacePath = ({ family, value, length }: Prefix): string[] => [
  'space',
  String(family),
  ...bitGroups(family, value).join('').slice(0, length),
];

function prefixesOf(block: Block | undefined): Map<string, Prefix> {
  const found = new Map<string, Prefix>();
  for (const text of [block?.prefix, block?.prefix6]) {
    const read = text === undefined ? null : parsePrefix(text);
    if (read?.ok) found.set(text!, read.value);
  }
  return found;
}

/** The space that blocks came to occupy by the edits. */
function claimsOf(edits: readonly Edit[], before: Plan, after: Plan): string[][] {
  const touched = new Set<string>();
  for (const { path } of edits) {
    if (path.length === 0 || (path.length === 1 && path[0] === 'blocks'))
      for (const id of Object.keys(after.blocks)) touched.add(id);
    else if (path[0] === 'blocks') touched.add(path[1]!);
  }
  return [...touched].flatMap((id) => {
    const old = prefixesOf(entryOf(before.blocks, id));
    return [...prefixesOf(entryOf(after.blocks, id))]
      .filter(([text]) => !old.has(text))
      .map(([, prefix]) => spacePath(prefix));
  });
}

const planCommands = applying<Plan, SimplePlanCommand>(planOf, claimsOf);
/** Applies a command to a plan, which itself stays as it is. The error is a sentence. */
export const applyPlanCommand = planCommands.applyOne;
/** All commands of a list or none of them: the first that does not go says why. */
export const applyPlanCommands = planCommands.applyAll;

/** Where two changes of a plan meet, in words: an address, a block of the space, or a property of a block. */
export function meetingWords(path: readonly string[], plan: Plan): string {
  const [what, key, property] = path;
  if (what === 'addresses' && key !== undefined) return key;
  if (what === 'space') return spaceWords(path);
  const block = what === 'blocks' && key !== undefined ? entryOf(plan.blocks, key) : undefined;
  if (block) return property === undefined ? block.name : `${property} of ${block.name}`;
  return path.length ? path.join(' › ') : 'the whole plan';
}

function spaceWords([, family, ...bits]: readonly string[]): string {
  const size = family === '4' ? 32 : 128;
  const value = BigInt(`0b${bits.join('').padEnd(size, '0')}`);
  return `${formatAddress({ family: family === '4' ? 4 : 6, value })}/${bits.length}`;
}
