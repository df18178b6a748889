import { byName } from '@sobrin/core';
import { type Brief, type Plan, blocksForChoice, planTree } from '@sobrin/core/plan';
import { type Names, type Policy, type Rule, type Spec, type Task, namesOf, refsOf } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';

/** Everything the words of a spec can point at, with how it is called. */
export interface SpecWords {
  names: Names;
  refs: readonly { ref: string; text: string }[];
  groups: readonly { id: string; name: string }[];
  /** Blocks of the lab's plan, for where a block is asked for. */
  blocks: readonly { prefix: string; name: string }[];
  tasks: readonly Task[];
  sites: readonly { id: string; name: string }[];
  /** A sentence of a kind to begin with: one that the reference meets, where there is one. */
  begin: (kind: string) => Rule;
  /** Whether students begin with a drawing: what it fulfils earns nothing, unless a requirement says otherwise. */
  hasStarter: boolean;
  /** Whether a mistake counts once in the lab, so that points are given back. */
  countsOnce: boolean;
}

/** @param begin a first sentence of a kind, by the spec as it is when it is asked for */
export const wordsOfSpec = (
  groups: Spec['groups'],
  reference: Topology,
  plan: Plan,
  {
    brief,
    tasks,
    starterId,
    policy,
  }: { brief: Brief; tasks: readonly Task[]; starterId: string | null; policy: Policy },
  begin: (kind: string) => Rule,
): SpecWords => {
  const spec = { groups, sections: [] };
  return {
    names: namesOf({ spec, reference, brief, tasks }),
    groups: (brief.groups ?? []).map(({ id, name }) => ({ id, name })),
    refs: refsOf(spec, reference),
    tasks,
    blocks: blocksForChoice(planTree(plan)),
    sites: Object.entries(reference.sites)
      .map(([id, { name }]) => ({ id, name }))
      .sort((one, other) => byName(one.name, other.name)),
    hasStarter: starterId !== null,
    countsOnce: policy.followThrough === 'on',
    begin,
  };
};
