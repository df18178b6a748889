import fc from 'fast-check';
import { formatAddress, formatPrefix } from '../address';
import { type CaseFile, readCase } from '../formats';
import { FAULTS } from '../tests/faults';
import { built, wishes } from '../tests/random-networks';
import { filesIn, readJson } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type Link, type Topology } from '../topology';
import { type NetworkModel, analyse, linkDomains, problemsOf, tablesOf } from '.';

const caseNamed = (name: string): Topology =>
  readCase((readJson('fixtures', 'kernel-cases', name) as CaseFile).topology);
const cases = filesIn('fixtures', 'kernel-cases');
const networks = cases.filter((_name, at) => at % 7 === 3).map(caseNamed);

const starts = fc.oneof(
  fc.constantFrom(...networks),
  wishes.map((wish) => built(wish).topology),
);

/** A value in which everything that equals a part of an older one is that part, as edits leave it. */
function sharing<T>(old: T, value: T): T {
  if (typeof value !== 'object' || value === null || typeof old !== 'object' || old === null) return value;
  const [before, after] = [old, value] as unknown as Record<string, unknown>[];
  const keys = Object.keys(after!);
  const shared = Object.fromEntries(keys.map((key) => [key, sharing(before![key], after![key])]));
  const isSame = keys.length === Object.keys(before!).length && keys.every((key) => shared[key] === before![key]);
  if (isSame) return old;
  return (Array.isArray(value) ? Object.values(shared) : shared) as T;
}

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
      let topology: Topology = network;
      let model = analyse(topology);
      let earlier = model;
      for (const [at, [what, number]] of sequence.entries()) {
        const next = structuredClone(topology);
        FAULTS[what]!(next, number);
        // Now and then the edit is tried on an older drawing first, as "what if" does.
        if (number % 10 === 0) earlier = model;
        if (number % 10 === 1) analyse(sharing(earlier.topology, next), {}, earlier).reach.tally();
        topology = sharing(topology, next);
        model = analyse(topology, {}, model);
        if (at % 4 === 0) expect(everything(model)).toEqual(everything(analyse(structuredClone(topology))));
        else expect(model.reach.tally()).toEqual(analyse(structuredClone(topology)).reach.tally());
      }
    }),
    { numRuns: runs(3), endOnFailure: true },
  );
});

const withCable = (topology: Topology, id: string, link: Link): Topology => ({
  ...topology,
  links: { ...topology.links, [id]: link },
});

/** One network of each family; in the long form three. */
const cabled = cases.filter((_name, at) => at % (runs(1) > 1 ? 4 : 11) === 1);
test.each(cabled)('%s: every cable cut, till none is left, and mended', (name) => {
  const whole = caseNamed(name);
  const first = analyse(whole);
  let model = first;
  for (const isCut of [true, false])
    for (const [id, link] of Object.entries(whole.links)) {
      const cut = { ...link, broken: true };
      model = analyse(withCable(model.topology, id, isCut ? cut : link), {}, model);
      expect(everything(model)).toEqual(everything(analyse(structuredClone(model.topology))));
      const alone = withCable(whole, id, cut);
      if (isCut) expect(analyse(alone, {}, first).reach.tally()).toEqual(analyse(structuredClone(alone)).reach.tally());
    }
  expect(model.reach.tally()).toEqual(first.reach.tally());
});
