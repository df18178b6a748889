import { analyse } from '../engine';
import { emptyPlan } from '../plan';
import { labOf } from '../tests/labs';
import { Sheet } from '../tests/topologies';
import { type Topology } from '../topology';
import { type Rule, checkSubmission } from '.';
import { contextOf } from './context';
import { Corresponding, type Kept } from './corresponding';
import { evaluate } from './evaluate';
import { matchRoles } from './matching/match';

/** Two desks and two tills on one switch, with a router: who is a desk and who a till is seen by addresses alone. */
function shop(addressed: boolean): Topology {
  const sheet = new Sheet()
    .device('R', 'border-router', { g0: '10.84.1.1/24', g1: '10.84.2.1/24' })
    .device('S', 'access-switch-12', {}, { settings: { vlans: { 10: 'desks', 20: 'tills' } } })
    .cable('R g0', 'S u1')
    .cable('R g1', 'S u2');
  for (const [nth, id] of ['DESK-1', 'DESK-2', 'TILL-1', 'TILL-2'].entries()) {
    const subnet = nth < 2 ? 1 : 2;
    const address = `10.84.${subnet}.1${nth}/24`;
    sheet
      .device(id, 'desktop', addressed ? { e0: address } : {}, { settings: { gateway4: `10.84.${subnet}.1` } })
      .cable(`S p${nth + 1}`, `${id} e0`);
  }
  return sheet.topology;
}
const RULES: readonly Rule[] = [
  { kind: 'rightKind', who: 'R' },
  { kind: 'linked', a: 'R', b: 'S' },
  { kind: 'linked', a: 'TILL-1', b: 'S' },
  { kind: 'private', who: 'TILL-1' },
  { kind: 'reach', from: 'TILL-1', to: 'R' },
  { kind: 'gateway', who: '@hosts', router: 'R' },
  { kind: 'hostnameIsName', who: '@network' },
];

describe('another arrangement of who plays what', () => {
  const reference = analyse(shop(true));
  const drawn = analyse(shop(false));
  const { roles } = matchRoles(reference, drawn);
  const exchanged = roles.map((match) => {
    const other = match.role === 'DESK-1' ? 'TILL-1' : match.role === 'TILL-1' ? 'DESK-1' : match.role;
    return { ...match, device: roles.find(({ role }) => role === other)!.device };
  });
  const lab = labOf(RULES, shop(true));
  const inContext = (matching: typeof roles) => {
    const playing = new Corresponding(reference, drawn, matching);
    const { context, telling } = contextOf(lab, reference, drawn, playing, { plan: emptyPlan() });
    const judged = (rule: Rule) =>
      evaluate(rule, context)?.map((item) => [item.key, item.met, item.places, telling.full(item.text)]);
    return { playing, judged };
  };

  test('comes to the same for all that looks up nobody who is exchanged, and that alone is taken over', () => {
    const [first, second] = [inContext(roles), inContext(exchanged)];
    const taken = RULES.map((rule) => {
      const { value, read } = first.playing.reading(() => first.judged(rule));
      const agrees = second.playing.agrees(read);
      if (agrees) expect(second.judged(rule)).toEqual(value);
      return agrees;
    });
    expect(taken).toEqual([true, true, false, false, false, false, true]);
  });
  test('what was looked up inside counts outside, and again where something kept is used again', () => {
    const { playing } = inContext(roles);
    const kept: Map<string, Kept<string | null>> = new Map();
    const look = (): string | null => playing.once(kept, 'till', () => playing.device('TILL-1'));
    const inner = playing.reading(() => playing.reading(look).value);
    expect([...inner.read.device.keys()]).toEqual(['TILL-1']);
    const again = playing.reading(look);
    expect([again.value, again.read]).toEqual([inner.value, inner.read]);
    expect(playing.reading(() => 1).read.device.size).toBe(0);
  });
  test('whom the spec asks to be reached is worked out once, and has looked up the same for whoever asks next', () => {
    // Printers behind the switch are nowhere in the reference: who they are hangs on who the switch is.
    const printers = { title: 'printers', roles: [], select: { kind: 'printer' as const, behind: 'S', least: 1 } };
    const asking = labOf([{ kind: 'reach', from: 'printers', to: 'R' }], shop(true));
    const playing = new Corresponding(reference, drawn, roles);
    const { context } = contextOf(
      { ...asking, spec: { ...asking.spec, groups: { printers } } },
      reference,
      drawn,
      playing,
      { plan: emptyPlan() },
    );
    for (const role of ['DESK-1', 'DESK-2', 'DESK-1']) {
      const { read } = playing.reading(() => context.askedBeyond(role, 4));
      expect([...read.device.keys()]).toContain('S');
    }
  });
  test('a role that nobody plays was looked up as well: who plays it in another arrangement changes what is said', () => {
    const nobody = roles.map((match) => (match.role === 'TILL-1' ? { ...match, device: null } : match));
    const { playing, judged } = inContext(nobody);
    const { read } = playing.reading(() => judged({ kind: 'rightKind', who: 'TILL-1' }));
    expect(inContext(roles).playing.agrees(read)).toBe(false);
  });
});

test('whom a spec speaks of does not hang on which of its requirements stands first', () => {
  const unique: Rule = { kind: 'uniqueAddresses', who: '@network', whose: 'asked' };
  const hosts: Rule = { kind: 'private', who: '@hosts' };
  const drawing = shop(true);
  drawing.devices['TILL-2']!.interfaces!.e0!.v4!.addresses = ['10.84.1.1/24'];
  const verdicts = [
    [unique, hosts],
    [hosts, unique],
  ].map((rules) =>
    Object.fromEntries(
      checkSubmission(labOf(rules, { ...shop(true), devices: {}, links: {} }), drawing).requirements.map(
        ({ id, verdict, items }, at) => [rules[at]!.kind, [id && verdict, items.map(({ text }) => text)]],
      ),
    ),
  );
  expect(verdicts[0]).toEqual(verdicts[1]);
  expect(verdicts[0]!.uniqueAddresses![1]).toContain('10.84.1.1 is used by R and TILL-2.');
});
