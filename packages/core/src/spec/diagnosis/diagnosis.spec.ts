import { readFileSync } from 'node:fs';
import path from 'node:path';
import { analyse } from '../../engine';
import { DRAWING_FAULTS, readdressed, renamed, moved, seeded, unvaried } from '../../faults';
import { labOf } from '../../tests/labs';
import { Sheet } from '../../tests/topologies';
import { type Command, type Topology, applyBatch, emptyTopology } from '../../topology';
import { judgeByRequirements, prepareLab } from '../check';
import { decided, askedBy } from '../decisions';
import { judge } from '../judge';
import { markLines } from '../mark-lines';
import { type Diagnosis } from '../result';
import { type LabFile } from '../schema';
import { extraDevices } from './by-devices';
import { Translation } from './translation';
import { type DiagnosisProgress, diagnose } from '.';

const demo = (slug: string): LabFile =>
  JSON.parse(readFileSync(path.resolve(__dirname, '../../../../../demo', slug, 'lab.json'), 'utf8')) as LabFile;
const after = (topology: Topology, commands: readonly Command[]): Topology => {
  const done = applyBatch(topology, 'test', [...commands]);
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
};
const diagnosed = (lab: LabFile, drawing: Topology, bounds = {}): Diagnosis & { points: number } => {
  const prepared = prepareLab(lab);
  const result = judgeByRequirements(prepared, { drawing, plan: lab.plan });
  return { points: result.points, ...diagnose(prepared, { drawing, plan: lab.plan }, result, bounds) };
};
const repaired = (drawing: Topology, { causes }: Diagnosis): Topology =>
  after(
    drawing,
    causes.flatMap(({ repair }) => repair.commands),
  );
const pointsOf = (lab: LabFile, drawing: Topology): number =>
  judgeByRequirements(prepareLab(lab), { drawing, plan: lab.plan }).points;

const stations = demo('three-stations');
const winch = demo('winch-isolation');
const valley = demo('valley-lan');
/** A drawing of a lab with changes to the devices that are named. */
const withDevices = (
  lab: LabFile,
  change: (device: Topology['devices'][string]) => void,
  is: (device: Topology['devices'][string]) => boolean,
): Topology => {
  const drawing = structuredClone(lab.reference);
  for (const device of Object.values(drawing.devices)) if (is(device)) change(device);
  return drawing;
};

describe('what is said of a mistake', () => {
  const drawing = withDevices(
    stations,
    ({ settings }) => {
      settings!.routes = settings!.routes!.filter(({ prefix }) => prefix !== '10.84.0.0/22');
    },
    ({ name }) => name === 'RT-M',
  );
  const found = diagnosed(stations, drawing);
  test('one missing return route is one cause, with what it took and every requirement that failed by it', () => {
    const [cause, ...others] = found.causes;
    expect(others).toEqual([]);
    expect(cause).toMatchObject({ letter: 'A', sure: 'sure', sort: 'settings routes missing RTM' });
    expect(cause!.text).toMatch(/^RT-M lacks the route to 10\.84\.0\.0\/22: via 10\.84\.15\.1/);
    expect(cause!.places).toEqual([{ device: 'RTM' }]);
    const failed = judgeByRequirements(prepareLab(stations), { drawing, plan: stations.plan }).requirements;
    expect(cause!.explains).toEqual(failed.filter(({ points, of }) => points < of).map(({ id }) => id));
    expect(found.unexplained).toEqual([]);
  });
  test('its repair can be tried on a copy and earns what the reference earns', () => {
    expect(pointsOf(stations, repaired(drawing, found))).toBe(pointsOf(stations, stations.reference));
  });
  test('where to look says nothing of what it should be', () => {
    expect(found.causes[0]!.where).toBe('Look at RT-M: the route to 10.84.0.0/22.');
  });
  test('the same drawing has the same diagnosis, whatever the order of its keys', () => {
    const turned = { ...drawing, devices: Object.fromEntries(Object.entries(drawing.devices).reverse()) };
    expect(JSON.stringify(diagnosed(stations, turned))).toBe(JSON.stringify(found));
  });
});

test('the same wrong mask at all twelve hosts is one change, and not the fault of the router', () => {
  const isHost = ({ settings }: Topology['devices'][string]): boolean => settings?.gateway4 !== undefined;
  const drawing = withDevices(
    valley,
    ({ interfaces }) => {
      const { v4 } = interfaces!.e0!;
      v4!.addresses = v4!.addresses!.map((text) => text.replace('/26', '/27'));
    },
    (device) => isHost(device) && device.interfaces?.e0?.v4?.addresses !== undefined,
  );
  const { causes } = diagnosed(valley, drawing);
  expect(causes).toHaveLength(1);
  expect(causes[0]!.text).toMatch(/\/27, and should have .*\/26\. The same at/);
  expect(causes[0]!.places.map(({ device }) => device)).not.toContain('RT');
  expect(causes[0]!.places.length).toBeGreaterThan(8);
  expect(pointsOf(valley, repaired(drawing, { causes } as Diagnosis))).toBe(pointsOf(valley, valley.reference));
});

test('two mistakes that hide behind one another are told apart, the dearer one first', () => {
  const drawing = withDevices(
    stations,
    (device) => {
      if (device.name === 'RT-M') device.settings!.forwarding = { v4: false };
      else device.settings!.gateway4 = '10.84.9.33';
    },
    ({ name }) => name === 'RT-M' || name === 'TILL-1',
  );
  const { causes } = diagnosed(stations, drawing);
  expect(causes.map(({ text }) => text)).toEqual([
    'RT-M does not forward IPv4.',
    expect.stringMatching(/^TILL-1 has the gateway 10\.84\.9\.33, and should have 10\.84\.9\.1\./),
  ]);
  expect(causes[0]!.took).toBeGreaterThan(causes[1]!.took);
});

test('many copies of a drawing have a bound of their own, and what is proposed of each stays a handful', () => {
  const copies = 40;
  const drawing = structuredClone(winch.reference);
  for (let copy = 1; copy < copies; copy++) {
    for (const [id, device] of Object.entries(winch.reference.devices))
      drawing.devices[`${id}x${copy}`] = { ...device, name: `${device.name}-${copy}` };
    for (const [id, { a, b, ...link }] of Object.entries(winch.reference.links))
      drawing.links[`${id}x${copy}`] = {
        ...link,
        a: { ...a, device: `${a.device}x${copy}` },
        b: { ...b, device: `${b.device}x${copy}` },
      };
  }
  const prepared = prepareLab(winch);
  const result = judgeByRequirements(prepared, { drawing, plan: winch.plan });
  const model = analyse(drawing, prepared.reference.options);
  const { length } = extraDevices(new Translation(prepared.reference, model, result.matching));
  const devices = Object.keys(drawing.devices).length;
  expect(length).toBeGreaterThan(devices / 2);
  expect(length).toBeLessThan(devices * 3);
  // So many devices have a bound of their own: 24,000 of them in all drawings that are tried.
  const { bound } = diagnose(prepared, { drawing, plan: winch.plan }, result, { isOver: () => true });
  expect(bound).toBe(Math.floor(24_000 / model.instances.size));
});

test('who draws with names, numbers and places of their own is told in these', () => {
  const random = seeded(3);
  const { topology, originOf } = [renamed, readdressed, moved].reduce(
    (variation, change) => change(variation, random),
    unvaried(stations.reference),
  );
  const id = [...originOf].find(([, origin]) => origin === 'RTM')![0];
  const device = topology.devices[id]!;
  const routes = device.settings!.routes!;
  const wrong = after(topology, [{ kind: 'setSettings', device: id, set: { routes: routes.slice(1) } }]);
  const { causes } = diagnosed(stations, wrong);
  expect(causes[0]!.text).toContain(device.name);
  expect(causes[0]!.text).toContain(routes[0]!.via!);
  expect(pointsOf(stations, repaired(wrong, { causes } as Diagnosis))).toBeGreaterThanOrEqual(
    pointsOf(stations, topology),
  );
});

test('a filter with a line wrong is put right; nothing that keeps apart is taken away for points', () => {
  const drawing = structuredClone(winch.reference);
  const filters = drawing.devices.RT!.settings!.filters!;
  const [key, filter] = Object.entries(filters).find(([, { rules }]) =>
    rules.some(({ action }) => action === 'permit'),
  )!;
  const at = filter.rules.findIndex(({ action }) => action === 'permit');
  filter.rules[at] = { ...filter.rules[at]!, action: 'deny' };
  const { causes } = diagnosed(winch, drawing);
  expect(causes).toHaveLength(1);
  expect(causes[0]!.text).toBe(`RT-M, the filter ${key}: line ${at + 1} is wrong.`);
  const mended = repaired(drawing, { causes } as Diagnosis);
  expect(Object.keys(mended.devices.RT!.settings!.filters!)).toEqual(Object.keys(filters));
});

test('a search that is bounded says so, and what it tried counts, never the time', () => {
  const drawing = withDevices(
    stations,
    ({ settings }) => (settings!.forwarding = { v4: false }),
    ({ name }) => name === 'RT-M' || name === 'RT-S',
  );
  const few = diagnosed(stations, drawing, { runs: 2 });
  expect([few.complete, few.bound]).toEqual([false, 2]);
  // What is found is weighed beyond it.
  expect(few.runs).toBeLessThan(8);
  expect(diagnosed(stations, drawing).complete).toBe(true);
  expect(diagnosed(stations, drawing, { isOver: () => true }).causes).toEqual([]);
});

test('how far a search is, and the best so far, is told after each drawing that is tried', () => {
  const drawing = withDevices(
    stations,
    ({ settings }) => (settings!.routes = []),
    ({ name }) => name === 'RT-M',
  );
  const told: DiagnosisProgress[] = [];
  const { runs, bound, causes } = diagnosed(stations, drawing, {
    onProgress: (progress: DiagnosisProgress) => told.push(progress),
  });
  expect(told.map((each) => each.runs)).toEqual(told.map((_each, at) => at + 1));
  expect([told.length, new Set(told.map((each) => each.bound))]).toEqual([runs, new Set([bound])]);
  expect(told[0]!.found).toEqual([]);
  expect(told.at(-1)!.found).toEqual(expect.arrayContaining(causes.map(({ text }) => text)));
});

test('what was found within a bound is worth as much as what was found without one', () => {
  const drawing = withDevices(
    stations,
    (device) => {
      if (device.name === 'RT-M') device.settings!.forwarding = { v4: false };
      else device.settings!.gateway4 = '10.84.9.33';
    },
    ({ name }) => name === 'RT-M' || name === 'TILL-1',
  );
  const raw = pointsOf(stations, drawing);
  for (const runs of [2, 3, 4, 6, 9, 14]) {
    const { causes, followThrough, complete } = diagnosed(stations, drawing, { runs });
    for (const cause of causes) expect([runs, cause.took > 0, cause.explains.length > 0]).toEqual([runs, true, true]);
    expect([runs, followThrough.mark > raw]).toEqual([runs, causes.length > 0]);
    if (complete) expect(causes).toHaveLength(2);
  }
});

test('without a reference, repairs come from problems and from what siblings agree on', () => {
  const sheet = new Sheet().device('R', 'border-router', { g0: '10.84.1.1/24' }).device('S', 'access-switch-12');
  for (const n of [1, 2, 3, 4]) sheet.host(`PC-${n}`, `10.84.1.1${n}/24`, n === 4 ? '10.84.1.200' : '10.84.1.1');
  sheet.cable('R g0', 'S u1', 'straight');
  for (const n of [1, 2, 3, 4]) sheet.cable(`PC-${n} e0`, `S p${n}`, 'straight');
  const lab = labOf([{ kind: 'gateway', who: '@hosts', router: '@network' }], emptyTopology());
  const { causes } = diagnosed(lab, sheet.topology);
  expect(causes).toHaveLength(1);
  expect(causes[0]!.text).toMatch(/PC-4/);
  expect(after(sheet.topology, causes[0]!.repair.commands).devices['PC-4']!.settings!.gateway4).toBe('10.84.1.1');
});

test('where nothing says which of two ends is wrong, both are pointed at, and either may be put right', () => {
  const access = (accessVlan: number) => ({ role: { kind: 'switched' as const, mode: 'access' as const, accessVlan } });
  const drawing = new Sheet()
    .device('A', 'access-switch-12', {}, { ports: { p1: access(10), p2: access(10), p3: access(20) } })
    .device('B', 'access-switch-12', {}, { ports: { p1: access(10), p2: access(10), p3: access(10) } })
    .host('ONE', '10.84.1.11/24')
    .host('TWO', '10.84.1.12/24')
    .host('THREE', '10.84.1.13/24')
    .cable('A p3', 'B p3', 'crossover')
    .cable('ONE e0', 'A p1', 'straight')
    .cable('TWO e0', 'B p1', 'straight')
    .cable('THREE e0', 'B p2', 'straight').topology;
  const lab = labOf([{ kind: 'within', who: '@hosts' }], emptyTopology());
  const { points, causes } = diagnosed(lab, drawing);
  expect(causes).toHaveLength(1);
  const [cause] = causes;
  expect(cause).toMatchObject({
    text: 'A p3 is in VLAN 20, B p3 is in VLAN 10: they do not agree.',
    places: [
      { device: 'A', port: 'p3' },
      { device: 'B', port: 'p3' },
    ],
  });
  expect(pointsOf(lab, after(drawing, cause!.repair.commands))).toBeGreaterThan(points);
});

test('what its student may read of a mistake has no name that only the reference has', () => {
  const reference = structuredClone(winch.reference);
  for (const [at, device] of Object.values(reference.devices).entries()) {
    device.name = `KANARI${at}`;
    if (device.settings?.hostname !== undefined) device.settings.hostname = device.name;
    for (const id of Object.keys(device.settings?.vlans ?? {})) device.settings!.vlans![id] = `KANARI VLAN ${id}`;
  }
  const lab: LabFile = { ...winch, reference };
  const told: string[] = [];
  for (const operator of DRAWING_FAULTS) {
    const [fault] = operator.faultsIn(winch.reference);
    if (!fault) continue;
    for (const cause of diagnosed(lab, after(winch.reference, fault.commands)).causes)
      told.push(cause.theirText, cause.where);
  }
  expect(told.length).toBeGreaterThan(40);
  expect(told.filter((text) => text.includes('KANARI'))).toEqual([]);
});

describe('a mark in which a mistake counts once', () => {
  const lab: LabFile = { ...stations, policy: { ...stations.policy, followThrough: 'on' } };
  const marked = (drawing: Topology, of: LabFile = lab) => judge(prepareLab(of), { drawing, plan: of.plan });
  const drawing = withDevices(
    stations,
    ({ settings }) => (settings!.forwarding = { v4: false }),
    ({ name }) => name === 'RT-M',
  );
  test('gives back what followed, less the cost of the mistake, and shows the arithmetic', () => {
    const result = marked(drawing);
    const { followThrough } = result.diagnosis!;
    expect(followThrough.raw).toBe(pointsOf(stations, drawing));
    expect(followThrough.costs).toHaveLength(1);
    expect(result.points).toBe(followThrough.mark);
    expect(result.points).toBe(followThrough.repaired - followThrough.costs[0]!.cost);
    expect(followThrough.lines).toEqual([
      `As handed in: ${followThrough.raw}`,
      `With A repaired: ${followThrough.repaired}`,
      `Cost of A (${followThrough.costs[0]!.by.join(', ')}): −${followThrough.costs[0]!.cost}`,
      `Mark, the larger of ${followThrough.raw} and ${result.points}: ${result.points}`,
    ]);
    const lines = markLines(result, null);
    expect(lines.map(({ what }) => what)).toContain('followThrough');
    expect(lines.reduce((sum, { points }) => sum + points, 0)).toBeCloseTo(result.points, 2);
  });
  test('the lab may say what a mistake costs; never more than it took', () => {
    const costly = marked(drawing, { ...lab, policy: { ...lab.policy, mistakeCost: 1 } });
    expect(costly.points).toBe(costly.diagnosis!.followThrough.repaired - 1);
    const dear = marked(drawing, { ...lab, policy: { ...lab.policy, mistakeCost: 500 } });
    expect(dear.points).toBe(pointsOf(stations, drawing));
  });
  test('what the lab is about is never given back', () => {
    const all = marked(drawing).diagnosis!.followThrough.won;
    const [id] = Object.keys(all);
    const sections = stations.spec.sections.map((section) => ({
      ...section,
      requirements: section.requirements.map((each) => (each.id === id ? { ...each, carried: false as const } : each)),
    }));
    const kept = marked(drawing, { ...lab, spec: { ...stations.spec, sections } });
    expect(Object.keys(kept.diagnosis!.followThrough.won)).not.toContain(id);
  });
  test('what a person decides counts as they said, and nothing is given back for it', () => {
    const result = marked(drawing);
    const requirements = stations.spec.sections.flatMap((section) => section.requirements);
    const decisions = Object.keys(result.diagnosis!.followThrough.won).map((requirement) => ({
      requirement,
      item: null,
      isMet: null,
      points: 0,
      asked: askedBy(requirements.find(({ id }) => id === requirement)!),
    }));
    const after = decided(lab, result, decisions);
    expect(after.points).toBe(result.diagnosis!.followThrough.raw);
    expect(markLines(after, null).map(({ what }) => what)).not.toContain('followThrough');
  });

  /** A reference without something that nobody began. */
  const without: [string, Topology][] = [
    ['anything', emptyTopology()],
    ['links', { ...stations.reference, links: {} }],
    [
      'routing',
      withDevices(
        stations,
        ({ settings }) => void delete settings?.routes,
        () => true,
      ),
    ],
    [
      'addresses',
      withDevices(
        stations,
        (device) => void delete device.interfaces,
        () => true,
      ),
    ],
    [
      'routers',
      {
        ...stations.reference,
        devices: Object.fromEntries(Object.entries(stations.reference.devices).filter(([id]) => !id.startsWith('RT'))),
        links: Object.fromEntries(
          Object.entries(stations.reference.links).filter(
            ([, { a, b }]) => ![a, b].some(({ device }) => device.startsWith('RT')),
          ),
        ),
      },
    ],
  ];
  test.each(without)('without %s it is the mark as handed in: what was left out is no mistake', (_what, bare) => {
    expect(marked(bare).points).toBe(pointsOf(stations, bare));
  });
  test.each([
    [
      'filters',
      ({ settings, interfaces = {} }: Topology['devices'][string]) => {
        delete settings?.filters;
        for (const each of Object.values(interfaces))
          for (const key of ['filterIn4', 'filterOut4'] as const) delete each[key];
      },
    ],
    [
      'VLANs',
      ({ settings, ports }: Topology['devices'][string]) => {
        delete settings?.vlans;
        for (const each of Object.values(ports ?? {})) delete each.role;
      },
    ],
    [
      'translation',
      ({ settings, interfaces = {} }: Topology['devices'][string]) => {
        delete settings?.nat;
        for (const each of Object.values(interfaces)) delete each.natSide;
      },
    ],
  ])('nor does winch isolation without %s get anything back', (_what, strip) => {
    const bare = withDevices(winch, strip, () => true);
    const of: LabFile = { ...winch, policy: { ...winch.policy, followThrough: 'on' } };
    expect(marked(bare, of).points).toBe(pointsOf(winch, bare));
  });
  test('one route of several that is forgotten is a mistake', () => {
    const forgotten = withDevices(
      stations,
      ({ settings }) => (settings!.routes = settings!.routes!.slice(0, -1)),
      ({ name }) => name === 'RT-M',
    );
    expect(marked(forgotten).points).toBeGreaterThan(pointsOf(stations, forgotten));
  });
});

describe.each([
  ['valley-lan', valley],
  ['winch-isolation', winch],
])('of known mistakes planted in %s', (_slug, lab) => {
  test('the first cause is the one that was planted, or wins back as much', () => {
    const prepared = prepareLab(lab);
    const whole = pointsOf(lab, lab.reference);
    const missed: string[] = [];
    let planted = 0;
    for (const operator of DRAWING_FAULTS) {
      const faults = [...operator.faultsIn(lab.reference)];
      const fault = faults[Math.floor(faults.length / 2)];
      if (!fault) continue;
      const drawing = after(lab.reference, fault.commands);
      const result = judgeByRequirements(prepared, { drawing, plan: lab.plan });
      if (result.points >= whole) continue;
      planted++;
      const { causes } = diagnose(prepared, { drawing, plan: lab.plan }, result);
      if (pointsOf(lab, after(drawing, causes[0]?.repair.commands ?? [])) < whole)
        missed.push(`${operator.kind}: ${fault.text} → ${causes.map(({ text }) => text).join(' / ')}`);
    }
    expect(planted).toBeGreaterThan(20);
    expect(missed).toEqual([]);
  });
});
