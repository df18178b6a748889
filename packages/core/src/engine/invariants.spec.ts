import fc from 'fast-check';
import { formatAddress } from '../address';
import { type CaseFile, readCase } from '../formats';
import { drawings } from '../tests/arbitrary';
import { anyFault, withFault } from '../tests/faults';
import { filesIn, readJson } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type NetworkModel, analyse, problemsOf } from '.';

/** Networks of all families, as a beginning for random ones. */
const networks = filesIn('fixtures', 'kernel-cases')
  .filter((_name, at) => at % 7 === 1)
  .map((name) => readCase((readJson('fixtures', 'kernel-cases', name) as CaseFile).topology));

const faulty = fc
  .tuple(fc.constantFrom(...networks), fc.array(anyFault, { minLength: 1, maxLength: 6 }))
  .map(([network, faults]) => faults.reduce(withFault, network));

/** Some pairs of a network, always the same ones, with the answer to each. */
function answers(model: NetworkModel, how: 'ask' | 'answer' = 'answer'): string[] {
  const targets = [...model.reach.targets()].sort((a, b) => (a.device < b.device ? -1 : 1));
  const devices = [...new Set(targets.map((target) => target.device))];
  return devices.flatMap((from, at) =>
    targets
      .filter((target, index) => target.device !== from && (index + at) % 5 === 0)
      .map((to) => {
        const { answer, reached, direction } = model.reach[how](from, to);
        return `${from} ${to.device} ${formatAddress(to.address)} ${answer} ${reached} ${direction}`;
      })
      .sort(),
  );
}
const turned = <T extends object>(map: T): T => Object.fromEntries(Object.entries(map).reverse()) as T;

describe('whatever happens to a network', () => {
  test('every question is answered, and the quick answer is that of the trace', () => {
    fc.assert(
      fc.property(faulty, (topology) => {
        problemsOf(analyse(topology));
        expect(answers(analyse(topology))).toEqual(answers(analyse(topology), 'ask'));
      }),
      { numRuns: runs(20) },
    );
  });
  test('the order in the file, and a device that nothing is plugged into, change nothing', () => {
    fc.assert(
      fc.property(faulty, (topology) => {
        const lone = { name: 'lone', model: 'desktop', at: { x: 0, y: 0 } };
        const other = { ...topology, devices: { lone, ...turned(topology.devices) }, links: turned(topology.links) };
        expect(answers(analyse(other))).toEqual(answers(analyse(topology)));
      }),
      { numRuns: runs(15) },
    );
  });
  test('names change nothing', () => {
    fc.assert(
      fc.property(faulty, (topology) => {
        const other = structuredClone(topology);
        for (const [at, device] of Object.values(other.devices).entries()) device.name = `N${(at * 7) % 13}`;
        expect(answers(analyse(other))).toEqual(answers(analyse(topology)));
      }),
      { numRuns: runs(8) },
    );
  });
});

test('no drawing that holds together, however absurd, ends in an exception', () => {
  fc.assert(
    fc.property(drawings, (topology) => {
      const model = analyse(topology);
      problemsOf(model);
      answers(model, 'ask');
      answers(model);
    }),
    { numRuns: runs(40) },
  );
});
