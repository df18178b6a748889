import { siblingRepairs } from '../../editing';
import { type NetworkModel } from '../../engine';
import { type Change } from './change';

/** What hosts beside one another agree on. Where a reference says what one should have it is asked instead. */
export const bySiblings = (model: NetworkModel): Change[] =>
  siblingRepairs(model).map((found) => ({
    ...found,
    what: 'other',
    source: 'siblings',
    fields: 1,
    opens: false,
    leftOut: false,
    members: 1,
  }));
