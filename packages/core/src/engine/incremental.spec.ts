import fc from 'fast-check';
import { editsBetween } from '../changes';
import { formatAddress, formatPrefix } from '../address';
import { type CaseFile, readCase } from '../formats';
import { FAULTS } from '../tests/faults';
import { built, wishes } from '../tests/random-networks';
import { filesIn, readJson } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type Command, type Topology } from '../topology';
import { AnalysisSession, type NetworkModel, analyse, linkDomains, problemsOf, tablesOf } from '.';

const caseNamed = (name: string): Topology =>
  readCase((readJson('fixtures', 'kernel-cases', name) as CaseFile).topology);
const cases = filesIn('fixtures', 'kernel-cases');
const networks = cases.filter((_name, at) => at % 7 === 3).map(caseNamed);

const starts = fc.oneof(
  fc.constantFrom(...networks),
  wishes.map((wish) => built(wish).topology),
);

const change = (from: Topology, to: Topology): Command => ({ kind: 'edits', edits: editsBetween(from, to) });

/** Everything that can be asked, but names of classes and numbers. */
function everything(model: NetworkModel): unknown {
  const targets = [...model.reach.targets()].sort((a, b) => (a.device < b.device ? -1 : 1));
  return {
    tally: model.reach.tally(),
    links: [...model.layer1.links],
    domains: [...linkDomains(model)].sort(),
    problems: problemsOf(model),
    routes: [...model.layer3.nodes].map(([id, { table }]) => [
      id,
      table.all().map(({ prefix, source, metric, via }) => `${formatPrefix(prefix)} ${source} ${metric} ${via?.value}`),
    ]),
    pairs: [...model.instances.keys()].flatMap((from) =>
      targets
        .filter((target) => target.device !== from)
        .map((to) => [from, to.device, formatAddress(to.address), model.reach.answer(from, to)]),
    ),
    tables: [...model.instances.keys()].slice(0, 3).map((id) => tablesOf(model, id)),
  };
}

test('after any 200 edits the engine says what it would say of the drawing if it had never seen another', () => {
  const edits = fc.array(fc.tuple(fc.constantFrom(...Object.keys(FAULTS)), fc.nat(10_000)), {
    minLength: 200,
    maxLength: 200,
    size: 'max',
  });
  fc.assert(
    fc.property(starts, edits, (network, sequence) => {
      const session = AnalysisSession.open(network);
      let earlier = session.fork();
      for (const [at, [what, number]] of sequence.entries()) {
        const next = structuredClone(session.topology);
        FAULTS[what]!(next, number);
        // Now and then the edit is tried on an older drawing first, as "what if" does, and once in a while taken back.
        if (number % 10 === 0) earlier = session.fork();
        if (number % 10 === 1) {
          const tried = earlier.fork();
          expect(tried.apply(change(tried.topology, next)).ok).toBe(true);
          expect(tried.model.reach.tally()).toEqual(analyse(structuredClone(next)).reach.tally());
        }
        expect(session.apply(change(session.topology, next)).ok).toBe(true);
        if (number % 7 === 0) session.undo();
        const anew = analyse(structuredClone(session.topology));
        if (at % 4 === 0) expect(everything(session.model)).toEqual(everything(anew));
        else expect(session.model.reach.tally()).toEqual(anew.reach.tally());
      }
    }),
    { numRuns: runs(3), endOnFailure: true },
  );
});

/** One network of each family; in the long form three. */
const cabled = cases.filter((_name, at) => at % (runs(1) > 1 ? 4 : 11) === 1);
test.each(cabled)('%s: every cable cut, till none is left, and mended', (name) => {
  const whole = caseNamed(name);
  const session = AnalysisSession.open(whole);
  const first = session.model.reach.tally();
  const ground = session.fork();
  for (const isCut of [true, false])
    for (const id of Object.keys(whole.links)) {
      const cut = { kind: 'setLink', id, set: { broken: true } } as const;
      session.apply(isCut ? cut : { kind: 'setLink', id, set: { broken: whole.links[id]!.broken ?? null } });
      expect(everything(session.model)).toEqual(everything(analyse(structuredClone(session.topology))));
      if (!isCut) continue;
      const alone = ground.fork();
      alone.apply(cut);
      expect(alone.model.reach.tally()).toEqual(analyse(structuredClone(alone.topology)).reach.tally());
    }
  expect(session.model.reach.tally()).toEqual(first);
});
