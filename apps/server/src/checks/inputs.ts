import { type Pins } from '@sobrin/core/spec';
import { documentHash } from '@sobrin/core/topology';
import { CORE_VERSION } from '@sobrin/core/version';
import { type Assignment } from '../assignments/assignment.entity';
import { type Cell } from './check.entity';
import { type CheckFacts } from './newest-checks';

/**
 * All that a result is made from, in one hash: what was handed in, the version of the lab that judges it, the core, and who
 * plays which role where persons said so.
 */
export const inputsOf = ({
  pins,
  ...made
}: {
  submission: string;
  version: string;
  core: string;
  pins: Pins;
}): string => documentHash(Object.keys(pins).length ? { ...made, pins } : made);

/** Whether a result was made by another core, and this one has not made it again yet. */
export const isUnconfirmed = ({ coreVersion, confirmedBy }: CheckFacts): boolean =>
  coreVersion !== CORE_VERSION && confirmedBy !== CORE_VERSION;

/** The requirements that two results of one submission by one version judge otherwise, by their ids. */
export const differencesOf = (before: readonly Cell[], after: readonly Cell[]): string[] =>
  after
    .filter(({ id, verdict, points }) => {
      const then = before.find((cell) => cell.id === id);
      return then?.verdict !== verdict || then.points !== points;
    })
    .map(({ id }) => id);

/** Whether a check tells no longer how the submission is judged: by another version of the lab, or by a core that judges otherwise. */
export const isStale = (check: CheckFacts, { versionHash }: Assignment): boolean =>
  check.versionHash !== versionHash || check.differs.length > 0;
