import { type Problem, type Topology } from '@sobrin/core/topology';
import { type AnyDocument } from './documents';

/** The body of every refusal: a sentence, and where it helps the places it is about. */
export interface Refusal {
  message: string;
  problems?: Problem[];
}

/** The body of a stale save that does not go together with what was saved since: both versions. */
export interface Conflict<D extends AnyDocument = Topology> extends Refusal {
  revision: number;
  /** Where the two changes meet, in words: things of the drawing, or addresses and blocks of the plan. */
  places: string[];
  /** Who saved in between. */
  by: string[];
  /** The document that both changes were made of. */
  before: D;
  mine: D;
  theirs: D;
}
