import { demoLab, twoLans } from '../tests/topologies';
import { analyse, problemsOf } from '../engine';
import { type Device, type Topology, applyBatch } from '../topology';
import { causesOf, repairOf } from '.';

/** The problems of a drawing that is spoilt: those that stand for themselves, each with what follows from it. */
function told(topology: Topology): Record<string, string[]> {
  const model = analyse(topology);
  const problems = problemsOf(model);
  const causes = causesOf(model, problems);
  const found: Record<string, string[]> = {};
  for (const { code, text } of problems) if (!causes[text]) found[`${code} ${text}`] = [];
  for (const { text } of problems) {
    let root = text;
    while (causes[root]) root = causes[root]!;
    if (root !== text)
      Object.entries(found)
        .find(([key]) => key.endsWith(root))![1]
        .push(text);
  }
  return found;
}
const lab = (slug: string, spoil: (device: (name: string) => Device, topology: Topology) => void): Topology => {
  const topology = structuredClone(demoLab(slug).reference);
  spoil((name) => Object.values(topology.devices).find((device) => device.name === name)!, topology);
  return topology;
};

test('a sound drawing has neither problems nor causes', () => {
  expect(causesOf(analyse(twoLans()))).toEqual({});
});
test('routes by a router that is off follow from that', () => {
  const found = told(lab('three-stations', (device) => void (device('RT-M').powered = false)));
  expect(Object.keys(found)).toEqual(['NO_POWER RT-M is switched off.']);
  expect(found['NO_POWER RT-M is switched off.']).toHaveLength(3);
});
test('one address at two devices is told once, whichever of them is wrong', () => {
  const spoilt = lab('three-stations', (device) => {
    device('DESK-1').interfaces!.e0!.v4!.addresses = ['10.84.1.1/26'];
  });
  const found = told(spoilt);
  expect(Object.keys(found)).toEqual(['DUPLICATE_ADDRESS 10.84.1.1 is used by DESK-1 and RT-V.']);
  expect(Object.values(found)[0]).toHaveLength(7);
  // The router keeps its address, since others go by it: nothing is left after the repair.
  const problem = problemsOf(analyse(spoilt)).find(({ code }) => code === 'DUPLICATE_ADDRESS')!;
  const repair = repairOf(spoilt, problem)!;
  expect(repair.text).toMatch(/^Give DESK-1 /);
  const mended = applyBatch(spoilt, 'mend', [...repair.commands]);
  expect(mended.ok && problemsOf(analyse(mended.value.document))).toEqual([]);
});
test('the same in IPv6', () => {
  const spoilt = lab('summit-dual-stack', (device) => {
    const router = Object.values(device('RT-V').interfaces!).find(({ v6 }) => v6?.addresses)!;
    const host = Object.values(device('SHOP').interfaces!)[0]!;
    host.v6 = { addresses: [...router.v6!.addresses!] };
  });
  expect(Object.keys(told(spoilt)).filter((text) => text.startsWith('DUPLICATE'))).toHaveLength(1);
  const problem = problemsOf(analyse(spoilt)).find(({ code }) => code === 'DUPLICATE_ADDRESS')!;
  const repair = repairOf(spoilt, problem)!;
  expect(repair.text).toMatch(/^Give SHOP fd5e:7a3c:90b1:1::/);
  const mended = applyBatch(spoilt, 'mend', [...repair.commands]);
  expect(mended.ok && problemsOf(analyse(mended.value.document)).map(({ code }) => code)).not.toContain(
    'DUPLICATE_ADDRESS',
  );
});
test('a gateway outside follows from an address that nobody can read, or from another mask', () => {
  const unreadable = lab('three-stations', (device) => {
    device('DESK-1').interfaces!.e0!.v4!.addresses = ['10.84.1.300/26'];
  });
  expect(Object.values(told(unreadable))).toEqual([
    [expect.stringMatching(/^The gateway 10\.84\.1\.1 of DESK-1 lies in none/)],
  ]);
  const masked = lab('three-stations', (device) => {
    device('DESK-1').interfaces!.e0!.v4!.addresses = ['10.84.1.11/30'];
  });
  expect(Object.entries(told(masked))).toEqual([
    [expect.stringMatching(/^PREFIX_DIFFERS/), [expect.any(String), expect.stringMatching(/broadcast address/)]],
  ]);
});
test('hosts that wait for an address follow from the port that is off between them and the pool', () => {
  const found = told(
    lab('winch-isolation', (device) => {
      const { ports } = device('SW-M2');
      device('SW-M2').ports = { ...ports, u1: { ...ports?.u1, enabled: false } };
    }),
  );
  expect(found).toEqual({
    'PORT_OFF SW-M2 u1 is switched off.': [expect.stringMatching(/wait for an address, and nobody/)],
  });
});
test('two mistakes that have nothing to do with each other stand beside each other', () => {
  const found = told(
    lab('three-stations', (device, topology) => {
      device('RT-M').powered = false;
      topology.links['up-SWV1']!.broken = true;
      device('DESK-2').name = 'DESK-1';
    }),
  );
  expect(Object.keys(found).map((text) => text.split(' ')[0])).toEqual(['NAME_TWICE', 'CABLE_BROKEN', 'NO_POWER']);
});

test('of several addresses the one that is there twice is the one that is changed', () => {
  const topology = twoLans();
  topology.devices.A!.interfaces!.e0!.v4!.addresses = ['10.84.1.11/24', '10.84.1.40/24'];
  topology.devices.A2 = { ...structuredClone(topology.devices.B!), name: 'A2', settings: { gateway4: '10.84.1.1' } };
  topology.devices.A2.interfaces!.e0!.v4!.addresses = ['10.84.1.50/24', '10.84.1.40/24'];
  topology.links.x = { a: { device: 'SA', port: 'p2' }, b: { device: 'A2', port: 'e0' }, medium: 'straight' };
  const problem = problemsOf(analyse(topology)).find(({ code }) => code === 'DUPLICATE_ADDRESS')!;
  const mended = applyBatch(topology, 'mend', [...repairOf(topology, problem)!.commands]);
  expect(mended.ok && mended.value.document.devices.A2!.interfaces!.e0!.v4!.addresses![0]).toBe('10.84.1.50/24');
  expect(mended.ok && problemsOf(analyse(mended.value.document))).toEqual([]);
});
