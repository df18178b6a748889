import { type Names, type Spec, type Topology, namesOf, refsOf } from '@sobrin/core';

/** Everything the words of a spec can point at, with how it is called. */
export interface SpecWords {
  names: Names;
  refs: readonly { ref: string; text: string }[];
  sites: readonly { id: string; name: string }[];
}

export const wordsOfSpec = (spec: Spec, reference: Topology): SpecWords => ({
  names: namesOf(spec, reference),
  refs: refsOf(spec, reference),
  sites: Object.entries(reference.sites).map(([id, { name }]) => ({ id, name })),
});
