import { byName } from '@sobrin/core';
import { type Topology } from '@sobrin/core/topology';

/** The sites of a drawing to choose from, by name. */
export const siteChoices = ({ sites }: Pick<Topology, 'sites'>): { value: string; text: string }[] =>
  Object.entries(sites)
    .map(([value, { name }]) => ({ value, text: name }))
    .sort((one, other) => byName(one.text, other.text));
