import { twoLans } from '../tests/topologies';
import { readTopology } from '../topology';
import { readLab, readSubmissionText } from '.';

const oldPlan = {
  blocks: {
    lan: {
      prefix: '10.84.1.0/26',
      name: 'LAN',
      ranges: [
        { from: '10.84.1.50', to: '10.84.1.60', purpose: 'DHCP pool' },
        { from: '10.84.1.2', to: '10.84.1.5', purpose: 'printers' },
      ],
      addresses: [
        { address: '10.84.1.9', name: 'A' },
        { address: 'FD5E::0009', name: 'SIX' },
      ],
    },
    twice: { prefix: '10.84.2.0/26', name: 'Other', addresses: [{ address: '10.84.1.9', name: 'B' }] },
  },
};
const newPlan = {
  blocks: { lan: { prefix: '10.84.1.0/26', name: 'LAN' }, twice: { prefix: '10.84.2.0/26', name: 'Other' } },
  ranges: {
    r1: { from: '10.84.1.50', to: '10.84.1.60', use: 'pool', name: 'DHCP pool' },
    r2: { from: '10.84.1.2', to: '10.84.1.5', use: 'printers', name: 'printers' },
  },
  addresses: { '10.84.1.9': { name: 'A, B' }, 'fd5e::9': { name: 'SIX' } },
};

test('a lab of version 1 is read with nothing lost', () => {
  const read = readLab({
    format: 'sobrin-lab',
    version: 1,
    title: 'Old',
    brief: {
      scenario: 'x',
      groups: [{ name: 'Desks', now: 1, later: 2, site: 'Valley' }],
      separations: ['guests reach nothing inside'],
      sites: ['Valley'],
    },
    tasks: [],
    plan: oldPlan,
    reference: twoLans(),
    spec: { groups: {}, sections: [] },
    policy: {},
  });
  expect(read).toMatchObject({
    ok: true,
    value: {
      version: 9,
      brief: {
        scenario: 'x',
        groups: [{ id: 'g1', name: 'Desks', now: 1, later: 2, site: 'Valley' }],
        separations: [{ id: 's1', text: 'guests reach nothing inside' }],
        sites: [{ name: 'Valley' }],
      },
      plan: newPlan,
    },
  });
});

test('and a submission', () => {
  const read = readSubmissionText(
    JSON.stringify({ format: 'sobrin-submission', version: 1, student: 'Ilse Haverkamp', plan: oldPlan }),
  );
  expect(read).toEqual({
    ok: true,
    value: { format: 'sobrin-submission', version: 3, student: 'Ilse Haverkamp', plan: newPlan },
  });
});

test('what is broken in an old file is named, not mended', () => {
  const read = readSubmissionText(
    JSON.stringify({ format: 'sobrin-submission', version: 1, plan: { blocks: { a: 5 } } }),
  );
  expect(read).toMatchObject({ ok: false, error: [{ place: 'plan › blocks › a' }] });
});

test.each([
  [
    { points: 'at-once', findings: 'at-once' },
    { what: 'findings', when: 'at-once' },
  ],
  [
    { points: 'after-due', findings: 'when-returned' },
    { what: 'points', when: 'after-due' },
  ],
  [{ findings: 'after-due' }, { what: 'points', when: 'at-once' }],
  [
    { points: 'when-returned', findings: 'after-due' },
    { what: 'findings', when: 'after-due' },
  ],
])('what students were to see in version 2, %j, is shown no earlier than was said: %j', (shown, now) => {
  const spec = { groups: {}, sections: [] };
  const policy = { attempts: 3, shown };
  const rest = { brief: {}, tasks: [], plan: { blocks: {} }, reference: twoLans(), spec };
  expect(readLab({ format: 'sobrin-lab', version: 2, title: 'Old', policy, ...rest })).toMatchObject({
    ok: true,
    value: { version: 9, policy: { attempts: 3, shown: now } },
  });
});

test('a drawing of version 1 is read by itself, in a lab and in what is handed in; a later one is refused with its place', () => {
  const old = { ...twoLans(), version: 1 };
  const lab = (reference: object) => ({
    format: 'sobrin-lab',
    version: 3,
    title: 'Old drawing',
    brief: {},
    tasks: [],
    plan: { blocks: {} },
    reference,
    starter: reference,
    spec: { groups: {}, sections: [] },
    policy: {},
  });
  expect(readTopology(old)).toEqual({ ok: true, value: twoLans() });
  expect(readLab(lab(old))).toMatchObject({ ok: true, value: { reference: twoLans(), starter: twoLans() } });
  expect(readSubmissionText(JSON.stringify({ format: 'sobrin-submission', version: 3, topology: old }))).toMatchObject({
    ok: true,
    value: { topology: twoLans() },
  });
  expect(readLab(lab({ ...old, version: 99 }))).toMatchObject({
    ok: false,
    error: [{ place: 'reference › version', text: expect.stringMatching(/Version 99 .* up to 4/) as string }],
  });
});
