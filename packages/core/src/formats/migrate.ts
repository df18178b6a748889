import { formatAddress, parseAddress } from '../address';
import { type Result, fail, ok } from '../result';
import { PLAN_VERSION } from '../plan';
import { LAB_VERSION, SUBMISSION_VERSION } from '../spec';
import { type Json, type Problem, type Steps, migrate, migrateTopology } from '../topology';

/** Brings a lab file of an older version, and the drawings in it, to the current one. */
export const migrateLab = (value: unknown): Result<unknown, Problem> =>
  withDrawings(migrate(value, 'sobrin-lab', LAB_STEPS, LAB_VERSION), ['reference', 'starter']);

/** Brings a submission file of an older version, and the drawing in it, to the current one. */
export const migrateSubmission = (value: unknown): Result<unknown, Problem> =>
  withDrawings(migrate(value, 'sobrin-submission', SUBMISSION_STEPS, SUBMISSION_VERSION), ['topology']);

/** Drawings have versions of their own. What is no drawing is left as it is: the shape check names it. */
function withDrawings(read: Result<unknown, Problem>, keys: readonly string[]): Result<unknown, Problem> {
  if (!read.ok) return read;
  const file = { ...(read.value as Json) };
  for (const key of keys) {
    const drawing = file[key];
    if (!isObject(drawing) || typeof drawing.version !== 'number') continue;
    const current = migrateTopology(drawing);
    if (!current.ok) return fail({ ...current.error, place: `${key} › ${current.error.place}` });
    file[key] = current.value;
  }
  return ok(file);
}

/** Brings a plan file of an older version to the current one. */
export const migratePlanFile = (value: unknown): Result<unknown, Problem> =>
  migrate(value, 'sobrin-plan', { 1: (plan) => plan }, PLAN_VERSION);

const LAB_STEPS: Steps = {
  1: (lab) => ({ ...lab, brief: briefFrom1(lab.brief), plan: planFrom1(lab.plan) }),
  2: (lab) => ({ ...lab, policy: policyFrom2(lab.policy) }),
  3: (lab) => lab,
  4: (lab) => lab,
  5: (lab) => lab,
  6: (lab) => lab,
  7: (lab) => lab,
  8: (lab) => lab,
};
const SUBMISSION_STEPS: Steps = {
  1: (submission) => ({ ...submission, ...(submission.plan !== undefined && { plan: planFrom1(submission.plan) }) }),
  2: (submission) => submission,
};

const isObject = (value: unknown): value is Json =>
  value !== null && typeof value === 'object' && !Array.isArray(value);
const list = (value: unknown): unknown[] => (Array.isArray(value) ? value : []);

/**
 * In version 1 a group had no id, a site was a name and a separation a line of text. What has another shape is left as it
 * is: the shape check names it.
 */
export function briefFrom1(brief: unknown): unknown {
  if (!isObject(brief)) return brief;
  return {
    ...brief,
    ...(brief.groups !== undefined && {
      groups: list(brief.groups).map((group, at) => (isObject(group) ? { id: `g${at + 1}`, ...group } : group)),
    }),
    ...(brief.separations !== undefined && {
      separations: list(brief.separations).map((text, at) => ({ id: `s${at + 1}`, text })),
    }),
    ...(brief.sites !== undefined && { sites: list(brief.sites).map((name) => ({ name })) }),
  };
}

/** In version 1 ranges and addresses were lists in their block, and a range had words for its purpose. */
export function planFrom1(plan: unknown): unknown {
  if (!isObject(plan) || !isObject(plan.blocks)) return plan;
  const ranges: Json = {};
  const addresses: Json = {};
  const blocks = Object.fromEntries(
    Object.entries(plan.blocks).map(([id, block]) => {
      if (!isObject(block)) return [id, block];
      const { ranges: ownRanges, addresses: ownAddresses, ...rest } = block;
      for (const json of list(ownRanges).filter(isObject))
        ranges[`r${Object.keys(ranges).length + 1}`] = {
          from: json.from,
          to: json.to,
          use: useFrom(json.purpose),
          ...(typeof json.purpose === 'string' && json.purpose && { name: json.purpose.slice(0, 80) }),
        };
      for (const json of list(ownAddresses).filter(isObject)) {
        const read = parseAddress(String(json.address));
        const key = read.ok ? formatAddress(read.value) : String(json.address);
        // Version 1 could list an address twice: both names stay to be read.
        const before = addresses[key] as { name: string } | undefined;
        addresses[key] = { name: before ? `${before.name}, ${String(json.name)}`.slice(0, 80) : json.name };
      }
      return [id, rest];
    }),
  );
  return {
    blocks,
    ...(Object.keys(ranges).length && { ranges }),
    ...(Object.keys(addresses).length && { addresses }),
  };
}

function useFrom(purpose: unknown): string {
  const words = String(purpose).toLowerCase();
  if (/pool|dhcp|lease/.test(words)) return 'pool';
  if (/print/.test(words)) return 'printers';
  if (/gateway|router/.test(words)) return 'gateway';
  if (/infra|equipment|switch|server/.test(words)) return 'infrastructure';
  return 'kept';
}

const MOMENTS = ['at-once', 'after-due', 'when-returned'];

/**
 * In version 2 points and findings had a moment each, which nothing honoured: points were there at once. Now both come
 * together, and nothing earlier than was said: findings where they were to be seen no later than points, else points.
 */
export function policyFrom2(policy: unknown): unknown {
  if (!isObject(policy) || !isObject(policy.shown)) return policy;
  const { shown, ...rest } = policy;
  const { points, findings } = shown;
  const moment = (when: unknown = MOMENTS[0]): number => MOMENTS.findIndex((each) => each === when);
  if (points === undefined && findings === undefined) return Object.keys(shown).length ? policy : rest;
  if ([points, findings].some((when) => when !== undefined && moment(when) < 0)) return policy;
  return {
    ...rest,
    shown:
      findings !== undefined && moment(findings) <= moment(points)
        ? { what: 'findings', when: findings }
        : { what: 'points', when: points ?? MOMENTS[0] },
  };
}
