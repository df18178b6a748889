import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import { formatAddress, formatPrefix } from '../address';
import { type CaseFile, readCase } from '../formats';
import { anyFault, commandsOf } from '../tests/faults';
import { built, networkShapes } from '../tests/random-networks';
import { filesIn, overPanels, readJson } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type Topology } from '../topology';
import { AnalysisSession, type NetworkModel, analyse, linkDomains, problemsOf, tablesOf } from '.';

const caseNamed = (name: string): Topology =>
  readCase((readJson('fixtures', 'kernel-cases', name) as CaseFile).topology);
const cases = filesIn('fixtures', 'kernel-cases');
const networks = cases.filter((_name, at) => at % 7 === 3).map(caseNamed);

const starts = fc.oneof(
  fc.constantFrom(...networks),
  networkShapes.map((shape) => built(shape).topology),
  networkShapes.map((shape) => overPanels(built(shape).topology, (at) => at % 3)),
);

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

/** Says where two analyses differ, which takes the runner long to look for: first it is asked whether they do. */
function expectSame(first: unknown, second: unknown): void {
  if (!isDeepStrictEqual(first, second)) expect(first).toEqual(second);
}

test('after any 200 changes the engine says what it would say of the drawing if it had never seen another', () => {
  const sequences = fc.array(fc.tuple(anyFault, fc.nat(99)), { minLength: 200, maxLength: 200, size: 'max' });
  fc.assert(
    fc.property(starts, sequences, (network, sequence) => {
      const session = AnalysisSession.open(network);
      let earlier = session.fork();
      for (const [at, [fault, what]] of sequence.entries()) {
        // Now and then a change is tried on an older drawing first, as "what if" does.
        if (what % 10 === 0) earlier = session.fork();
        if (what % 10 === 1) {
          const tried = earlier.fork();
          for (const command of commandsOf(tried.topology, fault)) tried.apply(command);
          expect(tried.model.reach.tally()).toEqual(analyse(structuredClone(tried.topology)).reach.tally());
        }
        for (const command of commandsOf(session.topology, fault))
          expect(session.apply(command)).toMatchObject({ ok: true });
        // Mistakes are taken back nearly as often as they are made, so that there is something left to break.
        for (let undone = 0; undone < what % 5; undone++) session.undo();
        const anew = analyse(structuredClone(session.topology));
        if (at % 4 === 0) expectSame(everything(session.model), everything(anew));
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
      expectSame(everything(session.model), everything(analyse(structuredClone(session.topology))));
      if (!isCut) continue;
      const alone = ground.fork();
      alone.apply(cut);
      expect(alone.model.reach.tally()).toEqual(analyse(structuredClone(alone.topology)).reach.tally());
    }
  expect(session.model.reach.tally()).toEqual(first);
});
