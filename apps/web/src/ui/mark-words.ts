import { plural } from '@sobrin/core';
import { type LatePenalty } from '@sobrin/core/spec';
import { points } from './words';

interface Mark {
  points: number;
  of: number;
  penalty: LatePenalty | null;
}

/** What counts of the points that were won. */
export const counted = ({ points: won, penalty }: Pick<Mark, 'points' | 'penalty'>): number =>
  won - (penalty?.points ?? 0);

/** What counts of the points, and what lateness took off: "27 / 39", "30 − 3 late = 27 / 39". */
export const markWords = (mark: Mark): string =>
  `${mark.penalty ? `${points(mark.points)} − ${points(mark.penalty.points)} late = ` : ''}${points(counted(mark))} / ${points(mark.of)}`;

/** What was taken off, in a sentence. */
export const penaltyWords = ({ days, percent, points: off }: LatePenalty): string =>
  `Late by ${plural(days, 'begun day')}: ${points(percent)} % of the points, ${points(off)}, are taken off.`;
