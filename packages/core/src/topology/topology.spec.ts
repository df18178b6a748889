import fc from 'fast-check';
import { meetingPlaces } from '../changes';
import { parseJson, readTopologyText } from '../formats';
import { readJson, twoLans } from '../tests/topologies';
import { runs } from '../tests/runs';
import {
  type Command,
  type Topology,
  KIT,
  MODULES,
  applyCommand,
  canonicalJson,
  countDevices,
  documentHash,
  emptyTopology,
  migrate,
  portsOf,
  readTopology,
} from '.';

const problemsOf = (value: unknown): string[] => {
  const read = readTopology(value);
  return read.ok ? [] : read.error.map((problem) => `${problem.place}: ${problem.text}`);
};
const withChange = (change: (topology: Topology) => void): Topology => {
  const topology = structuredClone(twoLans());
  change(topology);
  return topology;
};

test('a sound drawing is read as it is', () => expect(readTopology(twoLans())).toEqual({ ok: true, value: twoLans() }));

describe('what is wrong is named with its place', () => {
  test.each<[string, (topology: Topology) => void, RegExp]>([
    [
      'unknown model',
      (topology) => void (topology.devices.A!.model = 'flux-router'),
      /devices › A › model: .*unknown model "flux-router"/,
    ],
    [
      'link to a missing port',
      (topology) => void (Object.values(topology.links)[0]!.a.port = 'g9'),
      /links › R-g0-SA-u1 › a › port: "R" has no port "g9"/,
    ],
    [
      'link to a missing device',
      (topology) => void (Object.values(topology.links)[0]!.b.device = 'ghost'),
      /b › device: There is no device "ghost"/,
    ],
    [
      'link from a port to itself',
      (topology) => void (Object.values(topology.links)[0]!.b = Object.values(topology.links)[0]!.a),
      /Both ends are in the same port/,
    ],
    [
      'site that is not there',
      (topology) => void (topology.devices.A!.site = 'moon'),
      /devices › A › site: There is no site "moon"/,
    ],
    [
      'site inside itself',
      (topology) => void (topology.sites = { a: { name: 'A', parent: 'a' } }),
      /lies inside itself/,
    ],
    [
      'port that the model lacks',
      (topology) => void (topology.devices.A!.ports = { p44: { enabled: false } }),
      /has no port "p44"/,
    ],
    [
      'two interfaces on one port',
      (topology) => void (topology.devices.A!.interfaces!.x = { on: { kind: 'port', port: 'e0' } }),
      /both the interface of e0/,
    ],
    [
      'module in a bay that is not there',
      (topology) => void (topology.devices.R!.modules = { b1: 'fibre-sm' }),
      /has no bay "b1"/,
    ],
    [
      'own model with the id of a kit model',
      (topology) => void (topology.models = { desktop: { ...KIT.desktop! } }),
      /is a model of the kit/,
    ],
    [
      'word inherited by every object used as an id',
      (topology) => void (topology.devices.A!.model = 'constructor'),
      /unknown model "constructor"/,
    ],
    [
      'note at nothing',
      (topology) =>
        void (topology.notes = { n: { text: 'x', at: { x: 0, y: 0 }, anchor: { kind: 'device', id: 'gone' } } }),
      /There is no device "gone"/,
    ],
  ])('%s', (_what, change, wanted) => expect(problemsOf(withChange(change))).toEqual([expect.stringMatching(wanted)]));

  test.each<[string, unknown, RegExp]>([
    ['wrong format', { ...twoLans(), format: 'drawing' }, /format: The format is "drawing"/],
    ['newer version', { ...twoLans(), version: 7 }, /version: Version 7 .* reads versions up to 4/],
    ['unknown property', { ...twoLans(), colour: 'red' }, /colour: "colour" is not known here/],
    ['missing part', { format: 'sobrin-topology', version: 1, devices: {}, links: {} }, /sites: "sites" is missing/],
    ['no object', [1, 2], /This is no sobrin-topology file/],
    [
      'a medium that is none',
      {
        ...twoLans(),
        links: { l: { a: { device: 'R', port: 'g0' }, b: { device: 'A', port: 'e0' }, medium: 'string' } },
      },
      /medium: "string" does not fit here: wanted is one of straight, crossover/,
    ],
    [
      'an interface of no kind',
      {
        ...twoLans(),
        devices: {
          A: { name: 'A', model: 'desktop', at: { x: 0, y: 0 }, interfaces: { e0: { on: { kind: 'wall' } } } },
        },
      },
      /interfaces › e0 › on: .*"kind" is one of port, sub, svi/,
    ],
    [
      'a VLAN that is none',
      {
        ...twoLans(),
        devices: {
          A: {
            name: 'A',
            model: 'desktop',
            at: { x: 0, y: 0 },
            interfaces: { e0: { on: { kind: 'svi', vlan: 5000 } } },
          },
        },
      },
      /on › vlan: 5000 does not fit here: wanted is a whole number from 1 to 4094/,
    ],
  ])('%s', (_what, value, wanted) => expect(problemsOf(value)).toContainEqual(expect.stringMatching(wanted)));

  test('5,001 devices are refused, members of tiles counted; 5,000 are not', () => {
    const members = (n: number) => Object.fromEntries(Array.from({ length: n }, (_, at) => [`m${at}`, {}]));
    const tile = (n: number): Topology => ({
      ...emptyTopology(),
      devices: { T: { name: 'T', model: 'desktop', at: { x: 0, y: 0 }, members: members(n) } },
    });
    expect(countDevices(tile(5000))).toBe(5000);
    expect(problemsOf(tile(5000))).toEqual([]);
    expect(problemsOf(tile(5001))).toEqual(['devices: The drawing has 5001 devices: at most 5000 are taken.']);
  });

  test.each<[string, string, RegExp]>([
    ['broken JSON, with line and column', '{\n "format": "sobrin-topology",\n "version" 1 }', /line 3, column \d+/],
    ['an id that stands twice', '{"devices": {"a": 1,\n"a": 2}}', /Line 2: "a" is there twice/],
    ['an empty file', '  ', /empty/],
    ['hostile nesting', '['.repeat(100_000), /nested deeper than 64/],
    ['a comment', '{} // hello', /no JSON/],
  ])('%s', (_what, text, wanted) => {
    const read = parseJson(text, 1_000_000);
    expect(read.ok ? [] : read.error.map((problem) => problem.text)).toEqual([expect.stringMatching(wanted)]);
  });

  test('a file of 3 MB is refused before it is read', () => {
    const read = readTopologyText(JSON.stringify({ ...twoLans(), legend: 'x'.repeat(3_000_000) }));
    expect(read.ok ? '' : read.error[0]!.text).toMatch(/3\.0 MB: at most 2\.0 MB/);
  });
});

test('older versions are brought up step by step', () => {
  const steps = {
    1: (old: Record<string, unknown>) => ({ ...old, renamed: old.before }),
    2: (old: Record<string, unknown>) => ({ ...old, third: true }),
  };
  expect(migrate({ format: 'sobrin-topology', version: 1, before: 'x' }, 'sobrin-topology', steps, 3)).toMatchObject({
    ok: true,
    value: { version: 3, renamed: 'x', third: true },
  });
  expect(migrate({ format: 'sobrin-topology', version: 4 }, 'sobrin-topology', steps, 3).ok).toBe(false);
});

test('canonical JSON as in RFC 8785 §3.2.3, and equal hashes for equal documents', () => {
  expect(canonicalJson({ '\u20ac': 'Euro', '\r': 1, '1': [1e30, 4.5, 0.002], a: undefined })).toBe(
    '{"\\r":1,"1":[1e+30,4.5,0.002],"€":"Euro"}',
  );
  const turned = Object.fromEntries(Object.entries(twoLans()).reverse());
  expect(documentHash(turned)).toBe(documentHash(twoLans()));
  expect(documentHash(withChange((topology) => void (topology.title = 'x')))).not.toBe(documentHash(twoLans()));
});

describe('the kit', () => {
  test('every model has ports with keys of their own, and every bay takes modules that exist', () => {
    for (const model of Object.values(KIT)) {
      const keys = model.ports.map((port) => port.key);
      expect(new Set(keys).size).toBe(keys.length);
      for (const bay of Object.values(model.bays ?? {}))
        for (const module of bay.accepts) expect(MODULES[module]).toBeDefined();
    }
  });
  test('a module brings its ports under the key of its bay', () => {
    const topology = withChange((topology) => {
      topology.devices.R!.model = 'modular-router';
      topology.devices.R!.modules = { b1: 'fibre-sm', b3: 'serial-4' };
    });
    const keys = portsOf(topology, topology.devices.R!).map((port) => port.key);
    expect(keys).toEqual(expect.arrayContaining(['g0', 'g3', 'b1/f0', 'b3/s0', 'b3/s3']));
  });
});

describe('commands', () => {
  const drawing = readJson('demo', 'three-stations', 'lab.json') as { reference: Topology };
  const devices = Object.keys(drawing.reference.devices);
  const links = Object.keys(drawing.reference.links);
  const anyCommand: fc.Arbitrary<Command> = fc.oneof(
    fc.constantFrom(...devices).map((id): Command => ({ kind: 'removeDevices', ids: [id] })),
    fc.constantFrom(...links).map((id): Command => ({ kind: 'disconnect', ids: [id] })),
    fc
      .tuple(fc.constantFrom(...devices), fc.string({ maxLength: 10 }))
      .map(([id, name]): Command => ({ kind: 'setDevice', id, set: { name, site: null } })),
    fc
      .tuple(fc.constantFrom(...devices), fc.integer({ min: -500, max: 500 }))
      .map(([id, x]): Command => ({ kind: 'move', to: { [id]: { x, y: -x } } })),
    fc.constantFrom(...devices).map((device): Command => ({ kind: 'setInterface', device, key: 'e0', set: null })),
    fc
      .constantFrom(...devices)
      .map((device): Command => ({ kind: 'setSettings', device, set: { gateway4: '10.84.1.9', hostname: null } })),
    fc.nat(99).map((n): Command => ({
      kind: 'addDevice',
      id: `new${n}`,
      device: { name: `N${n}`, model: 'hub', at: { x: n, y: n } },
    })),
    fc.constantFrom('valley', 'middle').map((id): Command => ({ kind: 'setSite', id, set: null })),
    fc.string({ maxLength: 8 }).map((title): Command => ({ kind: 'setDocument', set: { title } })),
  );

  test('any sequence undone in reverse brings back the document to the letter, and every step leaves a sound one', () => {
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 25 }), (commands) => {
        let topology = drawing.reference;
        const inverses: Command[] = [];
        for (const command of commands) {
          const done = applyCommand(topology, command);
          if (!done.ok) continue;
          topology = done.value.document;
          expect(problemsOf(topology)).toEqual([]);
          inverses.unshift(done.value.inverse);
        }
        for (const inverse of inverses) {
          const undone = applyCommand(topology, inverse);
          topology = undone.ok ? undone.value.document : topology;
        }
        expect(topology).toEqual(drawing.reference);
      }),
      { numRuns: runs(20) },
    );
  });

  test('removing a device takes its links along and leaves notes without their anchor', () => {
    const noted = withChange(
      (topology) =>
        void (topology.notes = { n: { text: 'look', at: { x: 1, y: 1 }, anchor: { kind: 'device', id: 'SA' } } }),
    );
    const done = applyCommand(noted, { kind: 'removeDevices', ids: ['SA'] });
    expect(done.ok && Object.keys(done.value.document.links)).toEqual(['R-g1-SB-u1', 'SB-p1-B-e0']);
    expect(done.ok && done.value.document.notes).toEqual({ n: { text: 'look', at: { x: 1, y: 1 } } });
  });

  test('a command that no longer fits is refused with a sentence, a batch as a whole', () => {
    const before = twoLans();
    const done = applyCommand(before, {
      kind: 'batch',
      title: 'two',
      commands: [
        { kind: 'move', to: { A: { x: 9, y: 9 } } },
        { kind: 'setDevice', id: 'gone', set: { name: 'x' } },
      ],
    });
    expect(done).toEqual({ ok: false, error: 'There is no device "gone" any more.' });
    expect(before).toEqual(twoLans());
    expect(
      applyCommand(before, {
        kind: 'connect',
        id: 'l',
        link: { a: { device: 'A', port: 'e7' }, b: { device: 'B', port: 'e0' }, medium: 'straight' },
      }),
    ).toEqual({ ok: false, error: '"A" has no port "e7".' });
  });

  test('changes to different things go together; changes to one thing, or to what the other removed, do not', () => {
    const footprint = (command: Command) => {
      const done = applyCommand(twoLans(), command);
      if (!done.ok) throw new Error(done.error);
      return done.value;
    };
    const nameA = footprint({ kind: 'setDevice', id: 'A', set: { name: 'x' } });
    const moveA = footprint({ kind: 'move', to: { A: { x: 5, y: 5 } } });
    const removeA = footprint({ kind: 'removeDevices', ids: ['A'] });
    const cableA = footprint({
      kind: 'connect',
      id: 'l',
      link: { a: { device: 'A', port: 'e0' }, b: { device: 'B', port: 'e0' }, medium: 'crossover' },
    });
    expect(meetingPlaces(nameA, moveA)).toEqual([]);
    expect(meetingPlaces(nameA, footprint({ kind: 'setDevice', id: 'A', set: { name: 'y' } }))).toEqual([
      ['devices', 'A', 'name'],
    ]);
    expect(meetingPlaces(moveA, removeA)).not.toEqual([]);
    expect(meetingPlaces(cableA, removeA)).not.toEqual([]);
    expect(meetingPlaces(removeA, cableA)).not.toEqual([]);
    expect(meetingPlaces(cableA, nameA)).toEqual([]);
  });

  test('two people set two things on one port, interface, note or site: both stand, and undoing one leaves the other', () => {
    const start = withChange((topology) => {
      topology.sites.valley = { name: 'Valley' };
      topology.notes = { n: { text: 'look', at: { x: 1, y: 1 } } };
      topology.pictures = {
        p: { name: 'map', data: 'data:image/png;base64,AA==', at: { x: 0, y: 0 }, width: 9, height: 9 },
      };
    });
    const vlan = { kind: 'switched', mode: 'access', accessVlan: 20 } as const;
    const pairs: [Command, Command][] = [
      [
        { kind: 'changePort', device: 'SA', port: 'p1', set: { label: 'till' } },
        { kind: 'changePort', device: 'SA', port: 'p1', set: { role: vlan } },
      ],
      [
        { kind: 'changeInterface', device: 'A', key: 'e0', set: { description: 'till' } },
        { kind: 'changeInterface', device: 'A', key: 'e0', set: { v6: { addresses: ['fd5e::1/64'] } } },
      ],
      [
        { kind: 'changeNote', id: 'n', set: { text: 'here' } },
        { kind: 'changeNote', id: 'n', set: { at: { x: 5, y: 5 } } },
      ],
      [
        { kind: 'changeSite', id: 'valley', set: { name: 'Valley Station' } },
        { kind: 'changeSite', id: 'valley', set: { kind: 'wan' } },
      ],
      [
        { kind: 'changePicture', id: 'p', set: { name: 'plan' } },
        { kind: 'changePicture', id: 'p', set: { dim: 0.5 } },
      ],
    ];
    const applied = (topology: Topology, command: Command) => {
      const done = applyCommand(topology, command);
      if (!done.ok) throw new Error(done.error);
      return done.value;
    };
    for (const [mine, theirs] of pairs) {
      expect(meetingPlaces(applied(start, mine), applied(start, theirs))).toEqual([]);
      const first = applied(start, mine);
      const both = applied(first.document, theirs).document;
      expect(problemsOf(both)).toEqual([]);
      expect(applied(both, first.inverse).document).toEqual(applied(start, theirs).document);
    }
    const gone: Command[] = [
      { kind: 'changePort', device: 'SA', port: 'p99', set: {} },
      { kind: 'changeInterface', device: 'A', key: 'e9', set: {} },
      { kind: 'changeNote', id: 'm', set: {} },
    ];
    expect(gone.map((command) => applyCommand(start, command))).toEqual([
      { ok: false, error: '"SA" has no port "p99".' },
      { ok: false, error: '"A" has no interface "e9" any more.' },
      { ok: false, error: 'The note is not there any more.' },
    ]);
  });
});
