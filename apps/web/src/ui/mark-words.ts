import { plural } from '@sobrin/core';
import { type Penalty } from '@sobrin/core/spec';
import { points } from './words';

interface Mark {
  points: number;
  of: number;
  penalty: Penalty | null;
}

/** What counts of the points that were won. */
export const counted = ({ points: won, penalty }: Pick<Mark, 'points' | 'penalty'>): number =>
  won - (penalty?.points ?? 0);

/** The points that were won, with what is taken off: "30 − 1 hints − 3 late". */
export const takenOff = (won: number, { hints, late }: Penalty): string =>
  [
    points(won),
    ...(hints ? [`${points(hints.points)} ${hints.count === 1 ? 'hint' : 'hints'}`] : []),
    ...(late ? [`${points(late.points)} late`] : []),
  ].join(' − ');

/** What counts of the points, and what hints and lateness took off: "27 / 39", "30 − 3 late = 27 / 39". */
export const markWords = (mark: Mark): string =>
  `${mark.penalty ? `${takenOff(mark.points, mark.penalty)} = ` : ''}${points(counted(mark))} / ${points(mark.of)}`;

/** What was taken off, in sentences. */
export const penaltyWords = ({ hints, late }: Penalty): string =>
  [
    ...(hints ? [`${plural(hints.count, 'hint')} asked for: ${points(hints.points)} taken off.`] : []),
    ...(late
      ? [
          `Late by ${plural(late.days, 'begun day')}: ${points(late.percent)} % of the points, ${points(late.points)}, are taken off.`,
        ]
      : []),
  ].join(' ');
