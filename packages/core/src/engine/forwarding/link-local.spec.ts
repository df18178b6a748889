import { parseAddress, parseZonedAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type Interface, type Topology } from '../../topology';
import { analyse, neighbourWith, trace } from '..';

const six = (port: string, global: string, linkLocal?: string): Interface => ({
  on: { kind: 'port', port },
  v6: { addresses: [global], ...(linkLocal && { linkLocal }) },
});
/** Two wires at one router, which calls itself fe80::1 on both, as people do. */
const twoWires = (): Topology => {
  const { topology } = new Sheet()
    .device('R', 'border-router')
    .device('A', 'desktop')
    .device('B', 'desktop')
    .cable('R g0', 'A e0', 'crossover')
    .cable('R g1', 'B e0', 'crossover');
  topology.devices.R!.interfaces = {
    g0: six('g0', 'fd00:0:0:1::1/64', 'fe80::1'),
    g1: six('g1', 'fd00:0:0:2::1/64', 'fe80::1'),
  };
  topology.devices.A!.interfaces = { e0: six('e0', 'fd00:0:0:1::a/64', 'fe80::a') };
  topology.devices.B!.interfaces = { e0: six('e0', 'fd00:0:0:2::b/64', 'fe80::b') };
  return topology;
};
const asked = (from: string, to: string, text: string, zone?: string) => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return trace(analyse(twoWires()), from, to, read.value, undefined, zone);
};

describe('an address of one link (RFC 4291 §2.5.6)', () => {
  test('is reached on its link, from the address that the source has there, and the answer comes back', () => {
    const found = asked('A', 'R', 'fe80::1', 'e0');
    expect([found.answer, found.source]).toEqual(['yes', { family: 6, value: (0xfe80n << 112n) + 0xan }]);
    expect(found.reply!.hops.map(({ device }) => device)).toEqual(['R', 'A']);
  });
  test('needs no interface named where the device has one alone, and one where it has several', () => {
    expect(asked('A', 'R', 'fe80::1').answer).toBe('yes');
    const found = asked('R', 'B', 'fe80::b');
    expect([found.answer, found.reason!.text]).toEqual([
      'no',
      expect.stringMatching(/speaks IPv6 on g0, g1: say on which of them, with %/),
    ]);
    expect(asked('R', 'B', 'fe80::b', 'g1').answer).toBe('yes');
    expect(asked('R', 'B', 'fe80::b', 'g0').reason!.code).toBe('NO_ANSWER');
    expect(asked('R', 'B', 'fe80::b', 'g9').reason!.text).toMatch(/no interface "g9" that is up/);
  });
  test('is passed on by no router', () => {
    expect(asked('A', 'B', 'fe80::b', 'e0').answer).toBe('no');
  });
  test('is looked for on the link alone: the same one elsewhere is another device', () => {
    const model = analyse(twoWires());
    const address = (text: string) => {
      const read = parseZonedAddress(text);
      if (!read.ok) throw new Error(read.error.text);
      return read.value;
    };
    const near = (device: string, text: string) => {
      const { address: wanted, zone } = address(text);
      return neighbourWith(model, device, wanted, zone);
    };
    expect([near('A', 'fe80::1%e0'), near('B', 'fe80::1'), near('A', 'fe80::b'), near('R', 'fe80::b%g1')]).toEqual([
      'R',
      'R',
      null,
      'B',
    ]);
  });
});

test.each([
  ['10.0.0.1%g0', /only addresses of one link/],
  ['fd00::1%g0', /only addresses of one link/],
  ['fe80::1%', /names no interface after %/],
  ['fe80::g%g0', /./],
])('%s is refused with a sentence', (text, sentence) => {
  const read = parseZonedAddress(text);
  expect(read.ok ? null : read.error.text).toMatch(sentence);
});
