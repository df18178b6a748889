import { plural } from '../plural';
import {
  type Family,
  type Prefix,
  contains,
  formatAddress,
  formatPrefix,
  lastOf,
  overlaps,
  parseAddress,
  parsePrefix,
  samePrefix,
  sizeOf,
  summarise,
} from '../address';
import { type Edit } from '../changes';
import { fail, ok, type Result } from '../result';
import { type SimplePlanCommand } from './commands';
import { type Block } from './schema';
import { readRanges } from './subnet';
import { type PlanNode, type PlanTree, addressesIn, nodeOf, withAllIn } from './tree';

/** A change of the layout with what it brings, said before it is made. */
export interface PlannedChange {
  commands: SimplePlanCommand[];
  /** What happens, each as a sentence; `warns` where something is left that does not fit. */
  consequences: { text: string; warns: boolean }[];
}

const say = (text: string, warns = false): { text: string; warns: boolean } => ({ text, warns });

/** The property of a block that holds its prefix of a family. */
const propertyOf = (node: PlanNode, family: Family): 'prefix' | 'prefix6' =>
  family === 6 && node.space[4] ? 'prefix6' : 'prefix';

/**
 * Gives a block another prefix of a family. Of the same size it moves with all that lies in it, addresses too; larger or
 * smaller from the same start it is resized and what lies in it stays; any other prefix moves and resizes it.
 */
export function changePrefix(tree: PlanTree, id: string, text: string): Result<PlannedChange, string> {
  const node = nodeOf(tree, id);
  if (!node) return fail('The block is not there any more.');
  const read = parsePrefix(text);
  if (!read.ok) return fail(read.error.text);
  const to = read.value;
  const from = node.space[to.family];
  if (!from)
    return ok({
      commands: [{ kind: 'setBlock', id, set: { [propertyOf(node, to.family)]: formatPrefix(to) } }],
      consequences: [
        say(`${node.block.name} gets ${formatPrefix(to)}.`),
        ...meets(tree, to, new Set(withAllIn(tree, id))),
      ],
    });
  if (samePrefix(from, to)) return fail(`${node.block.name} is ${formatPrefix(to)} already.`);
  return ok(from.value === to.value ? resized(tree, node, from, to) : moved(tree, node, from, to));
}

function resized(tree: PlanTree, node: PlanNode, from: Prefix, to: Prefix): PlannedChange {
  const { family } = to;
  const inside = withAllIn(tree, node.id).slice(1);
  const grows = to.length < from.length;
  const consequences = [
    say(
      `${node.block.name} ${grows ? 'grows' : 'shrinks'} from ${formatPrefix(from)} to ${formatPrefix(to)}: ${sizeOf(from)} → ${sizeOf(to)} addresses.`,
    ),
  ];
  const left = inside.filter((id) => {
    const own = tree.nodes.get(id)!.space[family];
    return own && !contains(to, own);
  });
  if (left.length)
    consequences.push(
      say(
        `${plural(left.length, 'block')} no longer ${left.length === 1 ? 'lies' : 'lie'} in it: ${names(tree, left)}.`,
        true,
      ),
    );
  const outside = tree.addresses[family].countIn(lastOf(to).value + 1n, lastOf(from).value);
  if (!grows && outside)
    consequences.push(
      say(`${plural(outside, 'address', 'addresses')} in use ${outside === 1 ? 'is' : 'are'} left outside.`, true),
    );
  return {
    commands: [{ kind: 'setBlock', id: node.id, set: { [propertyOf(node, family)]: formatPrefix(to) } }],
    consequences: [...consequences, ...meets(tree, to, new Set([node.id, ...inside]))],
  };
}

const names = (tree: PlanTree, ids: readonly string[]): string => {
  const first = ids.slice(0, 3).map((id) => tree.nodes.get(id)!.block.name);
  return ids.length > 3 ? `${first.join(', ')} and ${ids.length - 3} more` : first.join(', ');
};

/** Other blocks that would take the same space: those that hold the new prefix are its parents and no trouble. */
function meets(tree: PlanTree, to: Prefix, own: ReadonlySet<string>): PlannedChange['consequences'] {
  const others = [...tree.nodes.values()].filter(
    (node) => !own.has(node.id) && node.space[to.family] && overlaps(to, node.space[to.family]!),
  );
  const swallowed = others.filter((other) => contains(to, other.space[to.family]!));
  const parents = others.filter((other) => !swallowed.includes(other));
  const parent = parents.sort((a, b) => b.space[to.family]!.length - a.space[to.family]!.length)[0];
  return [
    ...(parent ? [say(`It lies in ${parent.block.name}, ${formatPrefix(parent.space[to.family]!)}.`)] : []),
    ...(swallowed.length
      ? [
          say(
            `It takes space of ${names(
              tree,
              swallowed.map((node) => node.id),
            )}.`,
            true,
          ),
        ]
      : []),
  ];
}

function moved(tree: PlanTree, node: PlanNode, from: Prefix, to: Prefix): PlannedChange {
  const { family } = to;
  const inside = withAllIn(tree, node.id).slice(1);
  const { edits, counts } = shiftEdits(tree, inside, from, to);
  const lost = counts.outside;
  return {
    commands: [
      {
        kind: 'setBlock',
        id: node.id,
        set: { [propertyOf(node, family)]: formatPrefix(to), ...movedGateway(node.block, from, to) },
      },
      ...(edits.length ? [{ kind: 'edits', edits } as const] : []),
    ],
    consequences: [
      say(`${node.block.name} moves from ${formatPrefix(from)} to ${formatPrefix(to)}.`),
      ...(counts.blocks
        ? [say(`${plural(counts.blocks, 'block')} in it ${counts.blocks === 1 ? 'moves' : 'move'} along.`)]
        : []),
      ...(counts.addresses
        ? [
            say(
              `${plural(counts.addresses, 'address', 'addresses')} ${counts.addresses === 1 ? 'changes' : 'change'}: what uses them must be set anew.`,
            ),
          ]
        : []),
      ...(counts.ranges
        ? [say(`${plural(counts.ranges, 'range')} ${counts.ranges === 1 ? 'moves' : 'move'} along.`)]
        : []),
      ...(lost
        ? [
            say(
              `${plural(lost, 'thing')} in it ${lost === 1 ? 'does' : 'do'} not fit into the new size and ${lost === 1 ? 'stays' : 'stay'} where ${lost === 1 ? 'it is' : 'they are'}.`,
              true,
            ),
          ]
        : []),
      ...(counts.taken
        ? [
            say(
              `${plural(counts.taken, 'address', 'addresses')} of the new place ${counts.taken === 1 ? 'is' : 'are'} in use already and ${counts.taken === 1 ? 'stays' : 'stay'} with who has ${counts.taken === 1 ? 'it' : 'them'}.`,
              true,
            ),
          ]
        : []),
      ...meets(tree, to, new Set([node.id, ...inside])),
    ],
  };
}

const movedGateway = (block: Block, from: Prefix, to: Prefix): Partial<Block> => {
  const key = from.family === 4 ? 'gateway' : 'gateway6';
  const shifted = block[key] === undefined ? null : shiftedAddress(block[key], from, to);
  return shifted === null ? {} : { [key]: shifted };
};

/** An address at the same distance from the start of its block; null where it is not in the block or does not fit. */
function shiftedAddress(text: string, from: Prefix, to: Prefix): string | null {
  const read = parseAddress(text);
  if (!read.ok || !contains(from, read.value)) return null;
  const at = { family: to.family, value: to.value + (read.value.value - from.value) };
  return contains(to, at) ? formatAddress(at) : null;
}

/** Edits that carry blocks, ranges and addresses of one prefix over to another, at the same distance from its start. */
function shiftEdits(
  tree: PlanTree,
  inside: readonly string[],
  from: Prefix,
  to: Prefix,
): { edits: Edit[]; counts: { blocks: number; addresses: number; ranges: number; outside: number; taken: number } } {
  const counts = { blocks: 0, addresses: 0, ranges: 0, outside: 0, taken: 0 };
  const edits: Edit[] = [];
  for (const id of inside) {
    const node = tree.nodes.get(id)!;
    const own = node.space[to.family];
    if (!own) continue;
    const place = { ...own, value: to.value + (own.value - from.value) };
    if (!contains(to, place)) {
      counts.outside++;
      continue;
    }
    counts.blocks++;
    edits.push({ path: ['blocks', id, propertyOf(node, to.family)], value: formatPrefix(place) });
    for (const [key, value] of Object.entries(movedGateway(node.block, from, to)))
      edits.push({ path: ['blocks', id, key], value });
  }
  for (const { id, range, span } of readRanges(tree)) {
    if (span.from.family !== to.family || !contains(from, span.from) || !contains(from, span.to)) continue;
    const [low, high] = [shiftedAddress(range.from, from, to), shiftedAddress(range.to, from, to)];
    if (low === null || high === null) counts.outside++;
    else {
      counts.ranges++;
      edits.push({ path: ['ranges', id], value: { ...range, from: low, to: high } });
    }
  }
  const movedKeys = addressesIn(tree, from);
  const goes = new Set(movedKeys.map((key) => key.key));
  const set: Edit[] = [];
  for (const { key } of movedKeys) {
    const next = shiftedAddress(key, from, to);
    const entry = tree.plan.addresses![key]!;
    if (next === null) counts.outside++;
    else if (tree.plan.addresses![next] && !goes.has(next)) counts.taken++;
    else {
      counts.addresses++;
      edits.push({ path: ['addresses', key] });
      set.push({ path: ['addresses', next], value: entry });
    }
  }
  return { edits: [...edits, ...set], counts };
}

/** Two blocks of the same size change places, each with all that lies in it. */
export function swapBlocks(tree: PlanTree, a: string, b: string): Result<PlannedChange, string> {
  const [planNode, two] = [nodeOf(tree, a), nodeOf(tree, b)];
  if (!planNode || !two || a === b) return fail('Choose two blocks to swap.');
  const edits: Edit[] = [];
  const consequences: PlannedChange['consequences'] = [];
  for (const family of [4, 6] as const) {
    const [x, y] = [planNode.space[family], two.space[family]];
    if (!x || !y) continue;
    if (x.length !== y.length)
      return fail(
        `${planNode.block.name} is a /${x.length} and ${two.block.name} a /${y.length}: only blocks of the same size can be swapped.`,
      );
    if (samePrefix(x, y)) return fail(`${planNode.block.name} and ${two.block.name} are the same block.`);
    const [there, back] = [
      shiftEdits(tree, withAllIn(tree, a).slice(1), x, y),
      shiftEdits(tree, withAllIn(tree, b).slice(1), y, x),
    ];
    edits.push(
      { path: ['blocks', a, propertyOf(planNode, family)], value: formatPrefix(y) },
      { path: ['blocks', b, propertyOf(two, family)], value: formatPrefix(x) },
      ...Object.entries(movedGateway(planNode.block, x, y)).map(([key, value]) => ({
        path: ['blocks', a, key],
        value,
      })),
      ...Object.entries(movedGateway(two.block, y, x)).map(([key, value]) => ({ path: ['blocks', b, key], value })),
      ...swappedAddresses(tree, x, y),
      ...[...there.edits, ...back.edits].filter((edit) => edit.path[0] !== 'addresses'),
    );
    consequences.push(
      say(`${planNode.block.name} moves to ${formatPrefix(y)}, ${two.block.name} to ${formatPrefix(x)}.`),
    );
    const count = addressesIn(tree, x).length + addressesIn(tree, y).length;
    if (count)
      consequences.push(
        say(
          `${plural(count, 'address', 'addresses')} ${count === 1 ? 'changes' : 'change'}: what uses them must be set anew.`,
        ),
      );
  }
  return edits.length
    ? ok({ commands: [{ kind: 'edits', edits }], consequences })
    : fail(`${planNode.block.name} and ${two.block.name} have no family in common.`);
}

function swappedAddresses(tree: PlanTree, x: Prefix, y: Prefix): Edit[] {
  const [inX, inY] = [addressesIn(tree, x), addressesIn(tree, y)];
  const addresses = tree.plan.addresses!;
  return [
    ...[...inX, ...inY].map(({ key }) => ({ path: ['addresses', key] })),
    ...inX.map(({ key }) => ({ path: ['addresses', shiftedAddress(key, x, y)!], value: addresses[key] })),
    ...inY.map(({ key }) => ({ path: ['addresses', shiftedAddress(key, y, x)!], value: addresses[key] })),
  ];
}

/** Joins blocks into one: the first keeps its name, the others go; what lies in them stays where it is. */
export function mergeBlocks(tree: PlanTree, ids: readonly string[]): Result<PlannedChange, string> {
  const nodes = ids.map((id) => nodeOf(tree, id)).filter((node) => node !== null);
  const [first, ...others] = nodes;
  if (!first || !others.length) return fail('Choose the blocks to merge.');
  const set: Partial<Block> = {};
  const said: string[] = [];
  for (const family of [4, 6] as const) {
    const spaces = nodes.flatMap((node) => node.space[family] ?? []);
    if (!spaces.length) continue;
    const [joined, ...rest] = summarise(spaces);
    if (rest.length || spaces.length !== nodes.length)
      return fail(
        `${nodes.map((node) => node.block.name).join(' and ')} are not the two halves of one block${family === 6 ? ' in IPv6' : ''}: only neighbours that together make one block can be merged.`,
      );
    set[propertyOf(first, family)] = formatPrefix(joined!);
    said.push(formatPrefix(joined!));
  }
  const gone = others.map((other) => other.id);
  const vlans = [...new Set(nodes.flatMap((node) => node.block.vlan ?? []))];
  const count = nodes.reduce((sum, node) => sum + (node.space[4] ? addressesIn(tree, node.space[4]).length : 0), 0);
  return ok({
    commands: [
      { kind: 'removeBlocks', ids: gone },
      { kind: 'setBlock', id: first.id, set },
    ],
    consequences: [
      say(
        `${first.block.name} becomes ${said.join(' and ')}; ${names(tree, gone)} ${gone.length === 1 ? 'goes' : 'go'}.`,
      ),
      ...(vlans.length > 1
        ? [say(`They were in VLANs ${vlans.join(' and ')}: all is in VLAN ${first.block.vlan ?? '(none)'} then.`, true)]
        : []),
      ...(count
        ? [
            say(
              `${plural(count, 'address', 'addresses')} ${count === 1 ? 'stays as it is' : 'stay as they are'}; masks and gateways of what uses them change.`,
              true,
            ),
          ]
        : []),
    ],
  });
}
