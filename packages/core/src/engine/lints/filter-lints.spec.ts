import { parseAddress } from '../../address';
import { repairOf } from '../../editing';
import { twoLans } from '../../tests/topologies';
import { type FilterRule, type Topology, applyBatch } from '../../topology';
import { analyse, problemsOf, trace } from '..';

const any = { kind: 'any' as const };
const rule = (icmpType: number, more: Partial<FilterRule> = {}): FilterRule => ({
  action: 'permit',
  proto: 'icmp',
  src: any,
  dst: any,
  icmpType,
  ...more,
});
/** Both families on both wires, and a filter at the router for what comes in from A and from B. */
function filtered(family: 4 | 6, fromA: readonly FilterRule[], fromB: readonly FilterRule[]): Topology {
  const topology = twoLans();
  const { R, A, B } = topology.devices as Record<string, Topology['devices'][string]>;
  R!.interfaces!.g0!.v6 = { addresses: ['fd84:1::1/64'] };
  R!.interfaces!.g1!.v6 = { addresses: ['fd84:2::1/64'] };
  A!.interfaces!.e0!.v6 = { addresses: ['fd84:1::11/64'] };
  B!.interfaces!.e0!.v6 = { addresses: ['fd84:2::11/64'] };
  A!.settings = { ...A!.settings, gateway6: 'fd84:1::1' };
  B!.settings = { ...B!.settings, gateway6: 'fd84:2::1' };
  R!.settings = {
    filters: { a: { family, rules: [...fromA] }, b: { family, rules: [...fromB] } },
  };
  R!.interfaces!.g0![`filterIn${family}`] = 'a';
  R!.interfaces!.g1![`filterIn${family}`] = 'b';
  return topology;
}
const pings = (topology: Topology, text: string) => {
  const read = parseAddress(text);
  return read.ok && trace(analyse(topology), 'A', 'B', read.value, { protocol: 'icmp' }).answer;
};
const told = (topology: Topology) => problemsOf(analyse(topology)).filter(({ code }) => code === 'ICMP_OTHER_FAMILY');

test.each([
  [4, 8, 0, '10.84.2.11'],
  [6, 128, 129, 'fd84:2::11'],
] as const)(
  'an echo of IPv%s is of type %s and its answer of type %s (RFC 792, RFC 4443)',
  (family, request, reply, to) => {
    expect(pings(filtered(family, [rule(request)], [rule(reply)]), to)).toBe('yes');
    expect(pings(filtered(family, [rule(reply)], [rule(request)]), to)).toBe('no');
    expect(told(filtered(family, [rule(request)], [rule(reply)]))).toEqual([]);
  },
);

test.each([
  [6, 8, 0, 'fd84:2::11'],
  [4, 128, 129, '10.84.2.11'],
] as const)(
  'a filter of IPv%s that asks for types %s and %s matches nothing, is told, and mended by one repair',
  (family, request, reply, to) => {
    const topology = filtered(family, [rule(request)], [rule(reply)]);
    expect(pings(topology, to)).toBe('no');
    const problems = told(topology);
    expect(problems).toHaveLength(2);
    expect(problems[0]!.text).toMatch(/^R, a, rule 1: type .* matches nothing in IPv\d, where an echo request is type/);
    // Nothing is changed in silence.
    expect(topology.devices.R!.settings!.filters!.a!.rules[0]!.icmpType).toBe(request);
    const mended = applyBatch(topology, 'mend', [...repairOf(topology, problems[0]!)!.commands]);
    if (!mended.ok) throw new Error(mended.error);
    expect(told(mended.value.document)).toEqual([]);
    expect(pings(mended.value.document, to)).toBe('yes');
  },
);
