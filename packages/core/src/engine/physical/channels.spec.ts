import fc from 'fast-check';
import { built, networkShapes } from '../../tests/random-networks';
import { runs } from '../../tests/runs';
import { countsOf } from '../queries';
import { repairOf } from '../../editing';
import { type Command, type Topology, applyCommand, readTopology } from '../../topology';
import { Sheet, overPanels } from '../../tests/topologies';
import { AnalysisSession, analyse, problemsOf, suggestLink, tablesOf, trace } from '..';
import { parseAddress } from '../../address';

/** SW-1 p1 – panel – fixed cable – outlet – PC-1, and PC-2 beside the switch. */
const office = (lengths: readonly number[] = [2, 40, 3], desk = 'desktop') =>
  new Sheet()
    .device('SW', 'access-switch-12')
    .device('PANEL', 'patch-panel-24')
    .device('OUT', 'outlet-2')
    .device('PC', desk, { e0: '10.0.0.1/24' })
    .host('PC2', '10.0.0.2/24')
    .cable('SW p1', 'PANEL p7', 'straight', { lengthM: lengths[0]! })
    .cable('PANEL r7', 'OUT r1', 'straight', { lengthM: lengths[1]! })
    .cable('OUT p1', 'PC e0', 'straight', { lengthM: lengths[2]! })
    .cable('SW p2', 'PC2 e0');
const address = (text: string) => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(text);
  return read.value;
};
const changed = (topology: Topology, command: Command): Topology => {
  const applied = applyCommand(topology, command);
  if (!applied.ok) throw new Error(applied.error);
  return applied.value.document;
};
const reaches = (topology: Topology, to = '10.0.0.2') =>
  trace(analyse(topology), 'PC', 'PC2', address(to), { protocol: 'icmp' }).answer;
const texts = (topology: Topology) => problemsOf(analyse(topology)).map(({ code, text }) => [code, text]);

describe('cables through a patch panel and an outlet', () => {
  test('carry frames as one would, and nothing is a problem', () => {
    const { topology } = office();
    expect(readTopology(topology).ok).toBe(true);
    expect(reaches(topology)).toBe('yes');
    expect(texts(topology)).toEqual([]);
  });
  test('a port is wired to the other side of its own number only', () => {
    const { topology } = office();
    topology.links['OUT-p1-PC-e0']!.a.port = 'p2';
    expect(reaches(topology)).toBe('no');
  });
  test('are 100 m in all (ISO/IEC 11801-1, clause 8), told once', () => {
    expect(texts(office([5, 90, 5]).topology)).toEqual([]);
    const { topology } = office([5, 91, 5]);
    expect(texts(topology)).toEqual([
      [
        'CABLE_TOO_LONG',
        'The channel SW p1 – PC e0 through PANEL and OUT is 101 m long: straight-through copper carries at most 100 m.',
      ],
    ]);
    expect(reaches(topology)).toBe('no');
  });
  test('the way over them is shown with every cable', () => {
    const found = trace(analyse(office().topology), 'PC', 'PC2', address('10.0.0.2'), { protocol: 'icmp' });
    expect(found.request.hops.flatMap(({ frames }) => frames)).toContainEqual(
      expect.objectContaining({ kind: 'link', link: 'PANEL-r7-OUT-r1' }),
    );
  });
  test('pairs cross as often as cables cross them', () => {
    const crossed = (...media: ('straight' | 'crossover')[]) => {
      const { topology } = office();
      for (const [at, link] of ['SW-p1-PANEL-p7', 'PANEL-r7-OUT-r1', 'OUT-p1-PC-e0'].entries())
        topology.links[link]!.medium = media[at]!;
      return topology;
    };
    expect(reaches(crossed('crossover', 'straight', 'crossover'))).toBe('yes');
    const once = crossed('straight', 'straight', 'crossover');
    expect(reaches(once)).toBe('no');
    const [reason] = problemsOf(analyse(once));
    expect(reason).toMatchObject({ code: 'WRONG_PAIRING', at: { link: 'OUT-p1-PC-e0' } });
    const mended = repairOf(once, reason!)!.commands.reduce(changed, once);
    expect(texts(mended)).toEqual([]);
  });
  test('two like ports need one crossover cable among them, and the repair takes one', () => {
    const { topology } = new Sheet()
      .device('PANEL', 'patch-panel-24')
      .host('PC', '10.0.0.1/24')
      .host('PC2', '10.0.0.2/24')
      .cable('PC e0', 'PANEL p1')
      .cable('PANEL r1', 'PC2 e0');
    const [reason] = problemsOf(analyse(topology));
    expect(reason?.text).toBe(
      'PC e0 and PC2 e0 are like ports: one of the cables between them must be a crossover cable.',
    );
    const [command] = repairOf(topology, reason!)!.commands;
    expect(reaches(changed(topology, command!))).toBe('yes');
  });
  test('a broken one, or one in a port that is taken, is told where it is, once', () => {
    const { topology } = office();
    topology.links['PANEL-r7-OUT-r1']!.broken = true;
    expect(texts(topology)).toEqual([['CABLE_BROKEN', 'The cable between PANEL r7 and OUT r1 is broken.']]);
  });
  test('power goes over them', () => {
    const dark = (topology: Topology) => [...analyse(topology).layer1.unpowered.keys()];
    expect(dark(office([2, 40, 3], 'camera').topology)).toEqual([]);
    expect(dark(office([2, 97, 3], 'camera').topology)).toEqual(['PC']);
  });
  test('one that leads nowhere is told; fixed cables that wait for use are not', () => {
    const { topology } = office();
    delete topology.links['SW-p1-PANEL-p7'];
    expect(texts(topology)).toEqual([
      ['CHANNEL_OPEN', 'PC e0 leads to PANEL p7: plug a cable in there, nothing goes on from it.'],
    ]);
    delete topology.links['OUT-p1-PC-e0'];
    expect(texts(topology).map(([code]) => code)).toEqual(['NOT_CONNECTED']);
  });
  test('a ring of patch cables has no end, and the engine comes to one', () => {
    const { topology } = new Sheet()
      .device('PANEL', 'patch-panel-24')
      .cable('PANEL p1', 'PANEL p2')
      .cable('PANEL r1', 'PANEL r2');
    expect(analyse(topology).layer1.links.size).toBe(2);
  });
  test('neighbours, the table of addresses and shapes look through them', () => {
    const model = analyse(office().topology);
    expect(tablesOf(model, 'SW').neighbours).toEqual([
      { port: 'p1', device: 'PC', remotePort: 'e0' },
      { port: 'p2', device: 'PC2', remotePort: 'e0' },
    ]);
    expect(tablesOf(model, 'SW').macTable.map(({ port, device }) => [port, device])).toEqual([
      ['p1', 'PC'],
      ['p2', 'PC2'],
    ]);
    const counts = countsOf(model);
    expect(counts.shapes).toMatchObject([{ devices: ['SW'], shape: 'star' }]);
    expect([counts.byClass.passive, counts.intermediaries[0]!.n, counts.longestPath.length]).toEqual([2, 1, 3]);
  });
  test('switches bundle, trunk and agree on VLANs through them', () => {
    const trunk = (native: number) => ({
      role: { kind: 'switched' as const, mode: 'trunk' as const, native },
    });
    const pair = (native: number) => {
      const sheet = new Sheet().device('PANEL', 'patch-panel-24');
      for (const [id, own] of [
        ['S1', 1],
        ['S2', native],
      ] as const)
        sheet.device(
          id,
          'access-switch-12',
          {},
          {
            ports: { u1: trunk(own), u2: trunk(own) },
            settings: { bundles: { b: { members: ['u1', 'u2'], protocol: 'active' } } },
          },
        );
      for (const n of [1, 2]) sheet.cable(`S1 u${n}`, `PANEL p${n}`).cable(`PANEL r${n}`, `S2 u${n}`);
      return analyse(sheet.topology);
    };
    expect(pair(1).layer2.bundles.formed('S1', 'b')).toMatchObject({ speedMbps: 2000 });
    expect(problemsOf(pair(1)).map(({ code }) => code)).toEqual([]);
    expect(problemsOf(pair(9)).map(({ code }) => code)).toContain('NATIVE_MISMATCH');
  });
});

test('the next cable goes from front to device, and from rear to rear', () => {
  const { topology } = office();
  const link = (a: string, b: string) => {
    const found = suggestLink(topology, { device: a }, { device: b });
    return found && [found.a.port, found.b.port, found.medium];
  };
  expect(link('SW', 'PANEL')).toEqual(['u1', 'p1', 'straight']);
  expect(link('PANEL', 'OUT')).toEqual(['r1', 'r2', 'straight']);
});

test('an edit of a drawing with panels says what the whole says', () => {
  const { topology } = office();
  const session = AnalysisSession.open(topology);
  for (const command of [
    { kind: 'setLink' as const, id: 'PANEL-r7-OUT-r1', set: { broken: true } },
    { kind: 'setLink' as const, id: 'PANEL-r7-OUT-r1', set: { broken: null, lengthM: 99 } },
    { kind: 'setLink' as const, id: 'PANEL-r7-OUT-r1', set: { lengthM: 9 } },
    { kind: 'disconnect' as const, ids: ['SW-p1-PANEL-p7'] },
    { kind: 'setDevice' as const, id: 'OUT', set: { model: 'patch-panel-24' } },
  ]) {
    expect(session.apply(command)).toMatchObject({ ok: true });
    const anew = analyse(structuredClone(session.topology));
    expect([...session.model.layer1.links]).toEqual([...anew.layer1.links]);
    expect(problemsOf(session.model)).toEqual(problemsOf(anew));
    expect(session.model.reach.tally()).toEqual(anew.reach.tally());
  }
});

test('whatever network: laid over panels it reaches whom it reached, with the same problems', () => {
  fc.assert(
    fc.property(networkShapes, fc.array(fc.nat(2), { minLength: 9, maxLength: 9 }), (shape, where) => {
      const { topology } = built(shape);
      const laid = overPanels(topology, (at) => where[at % where.length]!);
      const [direct, model] = [analyse(topology), analyse(laid)];
      expect(model.reach.tally()).toEqual(direct.reach.tally());
      const codes = (of: typeof direct) => problemsOf(of).map(({ code }) => code);
      expect(codes(model)).toEqual(codes(direct));
    }),
    { numRuns: runs(25) },
  );
});

test('a model whose ports are wired through to nothing is refused', () => {
  const { topology } = office();
  topology.models = {
    own: {
      name: 'Own',
      kind: 'outlet',
      class: 'passive',
      bridges: 'hub',
      ports: [{ key: 'p1', connector: 'copper', speeds: [100], through: 'r1' }],
    },
  };
  expect(readTopology(topology)).toMatchObject({
    ok: false,
    error: [
      { place: 'models › own › ports', text: expect.stringContaining('"p1" is wired through to "r1"') as string },
    ],
  });
});
