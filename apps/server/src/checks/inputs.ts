import { documentHash } from '@sobrin/core/topology';
import { type Assignment } from '../assignments/assignment.entity';
import { type CheckFacts } from './newest-checks';

/** All that a result is made from, in one hash: what was handed in, the version of the lab that judges it, and the core. */
export const inputsOf = (made: { submission: string; version: string; core: string }): string => documentHash(made);

/** Whether a check tells no longer how the submission is judged: by another version of the lab, or by a core that judges otherwise. */
export const isStale = (check: CheckFacts, { versionHash }: Assignment): boolean =>
  check.versionHash !== versionHash || check.differs.length > 0;
