import { type Problem, type Topology } from '@sobrin/core';

/** The body of every refusal: a sentence, and where it helps the places it is about. */
export interface Refusal {
  message: string;
  problems?: Problem[];
}

/** The body of a stale save that does not go together with what was saved since: both versions. */
export interface Conflict extends Refusal {
  revision: number;
  /** Where the two changes meet, as a path of keys. */
  place: string;
  mine: Topology;
  theirs: Topology;
}
