import {
  type VariationOperator,
  merged,
  moved,
  otherModels,
  readdressed,
  recabled,
  renamed,
  seeded,
  split,
  unvaried,
  withExtra,
  withoutSome,
} from '../../faults';
import { runs } from '../../tests/runs';
import { demoLab } from '../../tests/topologies';
import { checkSubmission } from '..';
import { rolesRight } from './quality';

const LABS = ['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack'];
const references = LABS.map((slug) => demoLab(slug).reference);

function share(operators: readonly VariationOperator[], seeds: number): number {
  let [right, of] = [0, 0];
  for (const reference of references)
    for (let seed = 1; seed <= seeds; seed++) {
      const random = seeded(seed);
      const found = rolesRight(
        reference,
        operators.reduce((varied, vary) => vary(varied, random), unvaried(reference)),
      );
      right += found.right;
      of += found.of;
    }
  return right / of;
}

test.each<[string, readonly VariationOperator[], number]>([
  ['renamed', [renamed], 0.99],
  ['re-addressed', [readdressed], 0.99],
  ['renamed, re-addressed and moved', [renamed, readdressed, moved], 0.99],
  ['of other models', [renamed, readdressed, moved, otherModels], 0.99],
  ['with a fifth of devices more', [renamed, readdressed, moved, withExtra], 0.99],
  ['with a tenth of devices less', [renamed, readdressed, moved, withoutSome], 0.99],
  ['with a tenth of cables elsewhere', [renamed, readdressed, moved, recabled], 0.95],
  ['with two switches as one', [renamed, readdressed, moved, merged], 0.97],
  ['with one switch as two', [renamed, readdressed, moved, split], 0.97],
  ['with all of these', [renamed, readdressed, moved, otherModels, withExtra, withoutSome, recabled], 0.92],
])('a drawing %s: roles are found up to what nothing tells apart', (_what, operators, least) => {
  expect(share(operators, runs(6))).toBeGreaterThanOrEqual(least);
});

test.each(LABS)(
  '%s: the reference under other names and places, elsewhere in its block where it may, has full marks',
  (slug) => {
    const lab = demoLab(slug);
    const operators = slug === 'winch-isolation' ? [renamed, readdressed, moved] : [renamed, moved];
    for (let seed = 1; seed <= runs(4); seed++) {
      const random = seeded(seed);
      const { topology } = operators.reduce((varied, vary) => vary(varied, random), unvaried(lab.reference));
      // Names are shuffled, so that two devices may have one: what asks for names is another matter.
      const lost = checkSubmission(lab, topology).requirements.filter(
        ({ points, of, id }) =>
          points < of &&
          !JSON.stringify(
            lab.spec.sections.flatMap(({ requirements }) => requirements).find((each) => each.id === id)!.rule,
          ).includes('namesUnique'),
      );
      expect(lost.map(({ id, items }) => [id, items.find(({ met }) => met !== true)?.text])).toEqual([]);
    }
  },
);
