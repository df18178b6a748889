import { disagreements, siblingRepairs } from '../../editing';
import { type NetworkModel } from '../../engine';
import { type Change } from './change';

/** What hosts beside one another agree on, and what the two ends of a link do not. Where a reference says what one should have it is asked instead. */
export const bySiblings = (model: NetworkModel): Change[] =>
  [...siblingRepairs(model), ...disagreements(model)].map(({ opens = false, ...found }) => ({
    ...found,
    what: 'other',
    source: 'siblings',
    fields: 1,
    opens,
    leftOut: false,
    members: 1,
  }));
