import fc from 'fast-check';
import { labOf } from '../../tests/labs';
import { Sheet, demoLab, twoLans } from '../../tests/topologies';
import { type Topology, canonicalJson, emptyTopology, shapeProblems } from '../../topology';
import {
  LabFile,
  type Draft,
  type Proposal,
  type Spec,
  checkSubmission,
  draftOf,
  specProblems,
  withProposals,
} from '..';
import { mostPlanted } from './planted';
import { spread } from './take';

const bare = (slug: string): LabFile => ({ ...demoLab(slug), spec: { groups: {}, sections: [] } });
const ticked = ({ proposals }: Draft): Proposal[] => proposals.filter(({ leftOut }) => leftOut === undefined);
const textsOf = (proposals: readonly Proposal[]): string[] => proposals.map(({ sentence }) => sentence);
const rulesOf = ({ sections }: Spec): string[] =>
  sections.flatMap(({ requirements }) => requirements.map(({ rule }) => canonicalJson(rule)));

const drafts = new Map(['valley-lan', 'winch-isolation', 'season-opening'].map((slug) => [slug, draftOf(bare(slug))]));

describe.each([...drafts])('a draft of %s', (slug, draft) => {
  const lab = bare(slug);
  const spec = withProposals(lab.spec, draft, ticked(draft), 40);
  const drafted = { ...lab, spec };

  test('is a sound spec of the points that were asked for, all of which the reference earns', () => {
    expect(shapeProblems(LabFile.properties.spec, spec)).toEqual([]);
    expect(specProblems(drafted)).toEqual([]);
    const { points, of } = checkSubmission(drafted, lab.reference, lab.plan);
    expect([points, of]).toEqual([40, 40]);
  });
  test('has nothing that an empty drawing earns, nothing twice, and a reason for whatever it leaves out', () => {
    expect(checkSubmission(drafted, emptyTopology()).points).toBe(0);
    expect(new Set(rulesOf(spec)).size).toBe(rulesOf(spec).length);
    expect(new Set(textsOf(draft.proposals)).size).toBe(draft.proposals.length);
    for (const { leftOut, why } of draft.proposals) expect([why, leftOut ?? 'taken'].every(Boolean)).toBe(true);
  });
  test('notices at least 70 % of the mistakes that were planted', () => {
    const noticed = new Set(ticked(draft).flatMap(({ notices }) => notices));
    expect(draft.faults.length).toBeGreaterThan(15);
    expect(noticed.size / draft.faults.length).toBeGreaterThanOrEqual(0.7);
  });
});

test('a draft is the same each time, and asks nothing again of a lab that has it', () => {
  const [lab, draft] = [bare('valley-lan'), drafts.get('valley-lan')!];
  const spec = withProposals(lab.spec, draft, ticked(draft));
  const again = draftOf({ ...lab, spec });
  const has = new Set(rulesOf(spec));
  expect(again.proposals.filter(({ rule }) => has.has(canonicalJson(rule)))).toEqual([]);
  expect(again.groups).toEqual({});
  expect(again.faults).toEqual(draft.faults);
  expect(again.noticed).toEqual([...new Set(ticked(draft).flatMap(({ notices }) => notices))].sort((a, b) => a - b));
});

describe('what is ticked', () => {
  const winch = drafts.get('winch-isolation')!;
  const sentences = textsOf(ticked(winch));

  test('who is kept apart, as the brief says it, and who is not', () => {
    const said = ticked(winch).filter(({ why }) => why.includes('the control desks only'));
    expect(textsOf(said).join(' ')).toMatch(/The office must not reach the winch controllers/);
    expect(textsOf(said).join(' ')).toMatch(/The control desks can reach the winch controllers/);
  });
  test('what tasks and brief tell, by group: VLANs, trunks, room, translation', () => {
    expect(sentences).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^All of: The VLAN of the winch controllers is 10; and .* office is 40\.$/),
        'The links between the switches and RT-M carry at least the VLANs 10, 20, 30, 40.',
        expect.stringMatching(/The subnet of the guests has room for 100 hosts/),
        expect.stringMatching(/Packets from the office to NEWS arrive with a translated source address/),
      ]),
    );
  });
  test('not what students are told nowhere, nor what says no more than another sentence of its section', () => {
    const left = new Map(winch.proposals.map(({ sentence, leftOut }) => [sentence, leftOut]));
    expect(left.get('At the links of every network device both ends agree on speed and duplex.')).toBe(
      'students are told it nowhere: duplex',
    );
    expect([...left.values()].filter((text) => text?.startsWith('it says no more than “')).length).toBeGreaterThan(3);
  });
  test('what of a plan is asked only where a task has students make one', () => {
    expect(ticked(winch).filter(({ family }) => family === 'plan')).toEqual([]);
    expect(ticked(drafts.get('season-opening')!).every(({ family }) => family === 'plan')).toBe(true);
  });
});

test('beside a spec only what it does not notice is ticked, or what students are told and nothing tries', () => {
  const draft = draftOf(demoLab('valley-lan'));
  const noticed = new Set(draft.noticed);
  expect(noticed.size).toBeGreaterThan(60);
  for (const { notices } of ticked(draft))
    expect(notices.length === 0 || notices.some((fault) => !noticed.has(fault))).toBe(true);
  expect(draft.proposals.map(({ leftOut }) => leftOut)).toContain('the spec notices all of it already');
});

test.each(['__proto__', 'constructor', '(a+)+$', '…', 'x'.repeat(80)])(
  'a group of the brief may be called %s',
  (name) => {
    const lab = labOf([], twoLans());
    const { groups, proposals } = draftOf({
      ...lab,
      brief: { groups: [{ id: 'g', name, now: 1, later: 9 }] },
      plan: { blocks: { b: { prefix: '0.0.0.0/0', name, group: 'g' } } },
    });
    for (const id of Object.keys(groups)) expect(id).toMatch(/^[a-z0-9-]+$/);
    expect(proposals.length).toBeGreaterThan(5);
  },
);

describe('what a network is used for is proposed as well', () => {
  const sentences = (reference: Topology, more: Partial<LabFile> = {}): string[] =>
    textsOf(draftOf({ ...labOf([], reference), ...more }).proposals);
  const dns = ['10.84.1.5'];

  test('names that a server tells, and the pages behind them', () => {
    const names = [
      { name: 'tickets.example', type: 'A' as const, value: '10.84.1.5' },
      { name: 'lifts.example', type: 'A' as const, value: '10.84.1.9' },
    ];
    const services = { dns: { enabled: true }, web: { enabled: true } };
    const reference = new Sheet()
      .device('S', 'access-switch-12')
      .device('SRV', 'server', { e0: '10.84.1.5/24' }, { settings: { dns, dnsRecords: names, services } })
      .device('PC', 'desktop', { e0: '10.84.1.9/24' }, { settings: { dns } })
      .cable('SRV e0', 'S p1')
      .cable('PC e0', 'S p2').topology;
    const said = sentences(reference);
    expect(said).toContain('The address of tickets.example is known to every host, and its page opens by http.');
    expect(said).toContain('The address of lifts.example is known to every host.');
  });

  test('calls, with their VLAN and their power', () => {
    const phone = (extension: string) => ({ settings: { telephony: { extension, callServer: '10.84.40.5' } } });
    const access = (vlan: number, more = {}) => ({
      role: { kind: 'switched' as const, mode: 'access' as const, accessVlan: vlan, ...more },
    });
    const ports = { p1: access(10, { voiceVlan: 40 }), p2: access(10, { voiceVlan: 40 }), p3: access(40) };
    const reference = new Sheet()
      .device('S', 'access-switch-12', {}, { ports })
      .device('P1', 'phone', { e0: '10.84.40.11/24' }, phone('201'))
      .device('P2', 'phone', { e0: '10.84.40.12/24' }, phone('202'))
      .device('CALLS', 'server', { e0: '10.84.40.5/24' }, { settings: { services: { calls: { enabled: true } } } })
      .cable('P1 e0', 'S p1')
      .cable('P2 e0', 'S p2')
      .cable('CALLS e0', 'S p3').topology;
    const said = sentences(reference);
    expect(said).toContain('The telephones can call the telephones.');
    expect(said).toContain('Where the telephones are plugged in, the VLAN for voice is 40.');
  });

  test('wireless networks with their protection, and who signs in', () => {
    const ssids = [{ ssid: 'staff', security: 'wpa2' as const, key: 'lantern gondola' }];
    const radio = { ssid: 'staff', security: 'wpa2' as const, key: 'lantern gondola' };
    const reference = new Sheet()
      .device('AP', 'access-point', {}, { powered: true, settings: { ssids } })
      .host('DESK', '10.84.1.1/24')
      .device('TB', 'smartphone', { w0: '10.84.1.3/24' }, { ports: { w0: { radio } } })
      .cable('AP e0', 'DESK e0')
      .cable('AP w0', 'TB w0', 'wireless').topology;
    expect(sentences(reference)).toContain(
      'There is a wireless network on every network device, protected by WPA2 at least, called staff, joined by TB.',
    );
  });

  test('two links side by side, notes that hang on devices, and that the starter is kept', () => {
    const reference = twoLans();
    reference.notes = { n: { text: 'way out', at: { x: 0, y: 0 }, anchor: { kind: 'device', id: 'R' } } };
    const starter = { ...emptyTopology(), devices: { R: reference.devices.R! } };
    const said = sentences(reference, { starter });
    expect(said).toContain('A note hangs on R.');
    expect(said).toContain('Nothing of what came with the starter was changed or removed.');
    const pair = new Sheet()
      .device('SA', 'access-switch-12')
      .device('SB', 'access-switch-12')
      .cable('SA u1', 'SB u1')
      .cable('SA u2', 'SB u2').topology;
    expect(sentences(pair).join(' ')).toMatch(/where they are linked, there are 2 links or more\./);
  });
});

test('in large drawings fewer mistakes are tried, and never none', () => {
  expect([0, 39, 125, 400, 5000, 1e6].map(mostPlanted)).toEqual([160, 160, 160, 50, 12, 12]);
});

test('points come to their total, in whole ones where there is one for each', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 60 }),
      fc.integer({ min: 1, max: 200 }),
      (weights, total) => {
        const points = spread(weights, total);
        expect(points.reduce((sum, each) => sum + each, 0)).toBe(total);
        const unit = total >= weights.length ? 1 : 0.5;
        for (const each of points) expect(each % unit).toBe(0);
        if (total >= weights.length / 2) expect(Math.min(...points)).toBeGreaterThanOrEqual(unit);
      },
    ),
  );
});
