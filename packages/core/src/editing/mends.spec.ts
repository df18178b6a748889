import { type NetworkModel, analyse, trace } from '../engine';
import { parseAddress } from '../address';
import { Sheet } from '../tests/topologies';
import { type Topology, applyBatch } from '../topology';
import { mendsOf } from '.';

/** Four hosts beside one another, and a server behind a router. */
function lan(): Topology {
  const sheet = new Sheet()
    .device('R', 'border-router', { g0: '10.84.2.1/24', g1: '10.84.1.1/24' })
    .device('S', 'access-switch-12')
    .host('SRV', '10.84.2.11/24', '10.84.2.1');
  for (const n of [1, 2, 3, 4]) sheet.host(`PC-${n}`, `10.84.1.1${n}/24`, '10.84.1.1');
  sheet.cable('R g1', 'S u1', 'straight').cable('R g0', 'SRV e0', 'crossover');
  for (const n of [1, 2, 3, 4]) sheet.cable(`PC-${n} e0`, `S p${n}`, 'straight');
  return sheet.topology;
}
const reaches = (from: string) => (model: NetworkModel) => {
  const address = parseAddress('10.84.2.11');
  return address.ok && trace(model, from, 'SRV', address.value, { protocol: 'icmp' }).answer === 'yes';
};

test('what keeps one from another is found among what stands beside it, and was tried', () => {
  const drawing = lan();
  drawing.devices['PC-4']!.settings!.gateway4 = '10.84.1.99';
  const model = analyse(drawing);
  expect(reaches('PC-4')(model)).toBe(false);
  const { list, together } = mendsOf(model, reaches('PC-4'));
  expect(together).toBe(false);
  expect(list.map(({ text }) => text)).toContainEqual(
    'PC-4 has the gateway 10.84.1.99; the others beside it have 10.84.1.1.',
  );
  for (const { commands } of list) {
    const done = applyBatch(drawing, 'mend', [...commands]);
    expect(done.ok && reaches('PC-4')(analyse(done.value.document))).toBe(true);
  }
});

test('what only several mend together is told together, without what they do not need', () => {
  const drawing = lan();
  drawing.devices['PC-4']!.settings!.gateway4 = '10.84.1.99';
  drawing.devices['PC-3']!.settings!.gateway4 = '10.84.1.1';
  drawing.devices.R!.ports = { ...drawing.devices.R!.ports, g1: { enabled: false } };
  const { list, together } = mendsOf(analyse(drawing), reaches('PC-4'));
  expect(together).toBe(true);
  expect(list.map(({ repair }) => repair)).toEqual(
    expect.arrayContaining([expect.stringMatching(/Switch R g1 on/), expect.stringMatching(/10\.84\.1\.1/)]),
  );
  expect(list).toHaveLength(2);
});

test('nothing is made up where nothing of the drawing says what was meant', () => {
  const drawing = lan();
  for (const n of [1, 2, 3, 4]) delete drawing.links[Object.keys(drawing.links)[2 + (n - 1)]!];
  expect(mendsOf(analyse(drawing), reaches('PC-1')).list).toEqual([]);
});
