import { formatAddress, parseAddress } from '../address';
import { type MergeRules } from '../changes';
import { fail, ok, type Result } from '../result';
import { type Problem, shapeProblems } from '../topology';
import { type Brief, Plan } from './schema';

/** Bounds of one plan: bytes of its JSON, blocks, and addresses. */
export const MAX_PLAN_BYTES = 8_000_000;
export const MAX_BLOCKS = 5000;
/** Addresses that a plan may list. */
export const MAX_ADDRESSES = 100_000;

/**
 * Reads a value that should be a plan: shape first, then what must hold. Mistakes in a plan's prefixes are no errors
 * here.
 */
export function readPlan(value: unknown): Result<Plan, Problem[]> {
  const shape = shapeProblems(Plan, value);
  if (shape.length) return fail(shape);
  const problems = planInvariants(value as Plan);
  return problems.length ? fail(problems) : ok(value as Plan);
}

/** Bounds of a plan. They are quick to look at; that its keys are addresses, its commands see to. */
export function planBounds(plan: Plan): Problem[] {
  const blocks = Object.keys(plan.blocks).length;
  if (blocks > MAX_BLOCKS)
    return [{ place: 'blocks', text: `The plan has ${blocks} blocks: at most ${MAX_BLOCKS} are taken.` }];
  const addresses = Object.keys(plan.addresses ?? {}).length;
  if (addresses > MAX_ADDRESSES)
    return [{ place: 'addresses', text: `The plan has ${addresses} addresses: at most ${MAX_ADDRESSES} are taken.` }];
  return [];
}

/** What must hold in every plan and the shape cannot say. */
export function planInvariants(plan: Plan): Problem[] {
  const beyond = planBounds(plan);
  if (beyond.length) return beyond;
  return Object.keys(plan.addresses ?? {}).flatMap((key): Problem[] => {
    const read = parseAddress(key);
    const place = `addresses › ${key}`;
    if (!read.ok) return [{ place, text: read.error.text }];
    const canonical = formatAddress(read.value);
    return canonical === key
      ? []
      : [{ place, text: `"${key}" is written ${canonical} here, so that it is there once.` }];
  });
}

/** How two plans that were made of the same one are put together. */
export const PLAN_MERGE: MergeRules<Plan> = {
  broken: (plan) => {
    const read = readPlan(plan);
    return read.ok ? [] : read.error.map(({ place }) => place.split(' › '));
  },
};

/** What must hold in a brief and the shape cannot say: ids are given once. */
export function briefProblems(brief: Brief): Problem[] {
  const lists = { groups: brief.groups, separations: brief.separations, resources: brief.resources };
  return Object.entries(lists).flatMap(([part, list = []]) => {
    const seen = new Set<string>();
    return list.flatMap(({ id }, at): Problem[] => {
      const twice = seen.has(id);
      seen.add(id);
      return twice ? [{ place: `${part} › ${at} › id`, text: `The id "${id}" is there twice.` }] : [];
    });
  });
}
