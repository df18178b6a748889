import { parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type NetworkModel, type Trace, analyse, complaints, problemsOf } from '..';

const at = (text: string) => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};
const ask = (model: NetworkModel, from: string, device: string, text: string): Trace =>
  model.reach.ask(from, { device, address: at(text) });

describe('data link', () => {
  const vlanPair = (trunk: { a: object; b: object }, options = {}, vlans?: Record<string, string>) => {
    const access = { p1: { role: { kind: 'switched' as const, mode: 'access' as const, accessVlan: 10 } } };
    const side = (port: object) => ({
      ports: { ...access, u1: { role: { kind: 'switched' as const, mode: 'trunk' as const, ...port } } },
      ...(vlans && { settings: { vlans } }),
    });
    const topology = new Sheet()
      .device('S1', 'access-switch-12', {}, side(trunk.a))
      .device('S2', 'access-switch-12', {}, side(trunk.b))
      .host('A', '10.0.0.1/24')
      .host('B', '10.0.0.2/24')
      .cable('S1 u1', 'S2 u1')
      .cable('S1 p1', 'A e0')
      .cable('S2 p1', 'B e0').topology;
    return analyse(topology, options);
  };
  test('a trunk carries what both ends allow', () => {
    expect(ask(vlanPair({ a: {}, b: { allowed: [10, 20] } }), 'A', 'B', '10.0.0.2').answer).toBe('yes');
    expect(ask(vlanPair({ a: {}, b: { allowed: [20] } }), 'A', 'B', '10.0.0.2').answer).toBe('no');
  });
  test('differing native VLANs are reported, and the VLAN works one way only', () => {
    const model = vlanPair({ a: { native: 10 }, b: { native: 99 } });
    expect(model.layer2.warnings.map((warning) => warning.code)).toEqual(['NATIVE_MISMATCH']);
    expect(ask(model, 'A', 'B', '10.0.0.2').answer).toBe('no');
  });
  test('who hears the other knows its MAC address of its questions (RFC 826), and what it sends is lost without a word', () => {
    // What B sends goes untagged into another VLAN; what A sends arrives tagged.
    const model = vlanPair({ a: {}, b: { native: 10 } });
    const [there, back] = [ask(model, 'A', 'B', '10.0.0.2'), ask(model, 'B', 'A', '10.0.0.1')];
    expect([there.answer, back.answer, back.reason?.code]).toEqual(['no', 'no', 'ONE_WAY_WIRE']);
    expect(back.reason?.text).toMatch(/B hears A on e0 .* frames pass one way only/);
    expect(complaints(model, back)).toEqual([]);
  });
  test('where VLANs must be created, a switch without the VLAN does not pass it', () => {
    expect(ask(vlanPair({ a: {}, b: {} }, { vlanPolicy: 'created' }), 'A', 'B', '10.0.0.2').answer).toBe('no');
    expect(
      ask(vlanPair({ a: {}, b: {} }, { vlanPolicy: 'created' }, { 10: 'tickets' }), 'A', 'B', '10.0.0.2').answer,
    ).toBe('yes');
  });
  test('a loop is harmless with a spanning tree and a storm without', () => {
    const looped = (on: boolean) => {
      const settings = { settings: { spanningTree: { on } } };
      return analyse(
        new Sheet()
          .device('S1', 'access-switch-12', {}, settings)
          .device('S2', 'access-switch-12', {}, settings)
          .host('A', '10.0.0.1/24')
          .host('B', '10.0.0.2/24')
          .cable('S1 u1', 'S2 u1')
          .cable('S1 u2', 'S2 u2')
          .cable('S1 p1', 'A e0')
          .cable('S2 p1', 'B e0').topology,
      );
    };
    expect(ask(looped(true), 'A', 'B', '10.0.0.2').answer).toBe('yes');
    expect(ask(looped(false), 'A', 'B', '10.0.0.2')).toMatchObject({ answer: 'uncertain', reason: { code: 'STORM' } });
    const storms = (model: NetworkModel) => problemsOf(model).filter((problem) => problem.code === 'STORM');
    expect(storms(looped(true))).toEqual([]);
    expect(storms(looped(false))).toEqual([
      {
        code: 'STORM',
        text: 'A loop closes at S2 u2, and frames circle in it without end: take a link out, or let a switch on it take part in the spanning tree.',
        at: { device: 'S2', port: 'u2' },
      },
    ]);
  });
  test('a loop of hubs is a storm even beside a switch with a spanning tree', () => {
    const sheet = new Sheet().device('H1', 'hub').device('H2', 'hub').device('S', 'access-switch-12');
    sheet.cable('H1 p1', 'H2 p1', 'crossover').cable('H1 p2', 'H2 p2', 'crossover').cable('H1 p3', 'S p1');
    expect(problemsOf(analyse(sheet.topology)).filter((problem) => problem.code === 'STORM')).toMatchObject([
      {
        text: expect.stringMatching(/^A loop closes at H\d p\d, .*hubs cannot break it: take a link out\.$/) as string,
      },
    ]);
  });
});
