import { formatAddress, parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type FilterRule, type Interface, type Settings, type Topology } from '../../topology';
import { type Probe, type Target, type Trace, analyse, attemptOf, gridOf, outcomeOf, problemsOf } from '..';

const any = { kind: 'any' as const };
const prefix = (text: string) => ({ kind: 'prefix' as const, prefix: text });
const rule = (
  action: 'permit' | 'deny',
  proto: FilterRule['proto'] = 'ip',
  more: Partial<FilterRule> = {},
): FilterRule => ({
  action,
  proto,
  src: any,
  dst: any,
  ...more,
});
const port = (from: number) => ({ op: 'eq' as const, from });
const tcp = (number: number): Probe => ({ protocol: 'tcp', port: number });

/** A – R – B with what is set at the router, and a service on B. */
function network(interfaces: Record<'g0' | 'g1', Partial<Interface>>, settings: Settings): Topology {
  const interfaceConfig = (key: string, address: string, more: Partial<Interface>): Interface => ({
    on: { kind: 'port', port: key },
    v4: { addresses: [address] },
    ...more,
  });
  const sheet = new Sheet()
    .device(
      'R',
      'border-router',
      {},
      {
        interfaces: {
          g0: interfaceConfig('g0', '10.84.1.1/24', interfaces.g0),
          g1: interfaceConfig('g1', '192.0.2.1/24', interfaces.g1),
        },
        settings,
      },
    )
    .host('A', '10.84.1.11/24', '10.84.1.1')
    .host('B', '192.0.2.11/24', '192.0.2.1')
    .cable('R g0', 'A e0', 'crossover')
    .cable('R g1', 'B e0', 'crossover');
  sheet.topology.devices.B!.settings!.services = { web: { enabled: true, port: 80 } };
  return sheet.topology;
}
function ask(topology: Topology, from: string, device: string, text: string, probe?: Probe): Trace {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return analyse(topology).reach.ask(from, { device, address: read.value }, probe);
}
function connects(topology: Topology, from: string, device: string, text: string, number: number): string | null {
  const model = analyse(topology);
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  const found = model.reach.ask(from, { device, address: read.value }, tcp(number));
  const services = Object.values(model.instances.get(device)!.settings.services ?? {});
  return outcomeOf(
    model,
    found,
    tcp(number),
    services.some((service) => service.enabled && service.port === number),
  );
}
const filtered = (way: 'filterIn4' | 'filterOut4', at: 'g0' | 'g1', ...rules: FilterRule[]): Topology =>
  network({ g0: {}, g1: {}, ...{ [at]: { [way]: 'f' } } }, { filters: { f: { family: 4, rules } } });

describe('filters: the first match decides, and an implicit deny ends them', () => {
  const toB = (topology: Topology) => ask(topology, 'A', 'B', '192.0.2.11');
  test('what is permitted passes, and the reason names the line that denied', () => {
    expect(toB(filtered('filterIn4', 'g0', rule('permit', 'icmp'))).answer).toBe('yes');
    expect(toB(filtered('filterIn4', 'g0', rule('permit', 'tcp'), rule('deny', 'icmp')))).toMatchObject({
      answer: 'no',
      direction: 'request',
      reason: {
        code: 'FILTERED',
        text: 'R filters what comes in by g0 with f: its line 2 denies it.',
        at: { device: 'R', port: 'g0' },
      },
    });
    expect(toB(filtered('filterIn4', 'g0', rule('permit', 'tcp'))).reason!.text).toMatch(/its implicit deny denies it/);
  });
  test('a rule that is switched off matches nothing', () => {
    const off = rule('deny', 'icmp', { enabled: false });
    expect(toB(filtered('filterIn4', 'g0', off, rule('permit'))).answer).toBe('yes');
  });
  test('rules speak of prefixes, spans and wildcard masks', () => {
    const passes = (src: FilterRule['src']): string =>
      toB(filtered('filterIn4', 'g0', rule('permit', 'ip', { src }))).answer;
    expect(passes(prefix('10.84.1.0/28'))).toBe('yes');
    expect(passes(prefix('10.84.1.16/28'))).toBe('no');
    expect(passes({ kind: 'range', from: '10.84.1.11', to: '10.84.1.20' })).toBe('yes');
    expect(passes({ kind: 'range', from: '10.84.1.12', to: '10.84.1.20' })).toBe('no');
    // Odd hosts only: all bits but the last are free.
    expect(passes({ kind: 'wildcard', address: '10.84.1.1', wildcard: '0.0.0.254' })).toBe('yes');
    expect(passes({ kind: 'wildcard', address: '10.84.1.0', wildcard: '0.0.0.254' })).toBe('no');
  });
  test('the answer is filtered too, on its way back', () => {
    expect(toB(filtered('filterIn4', 'g1', rule('deny', 'icmp', { icmpType: 0 }), rule('permit')))).toMatchObject({
      answer: 'no',
      direction: 'reply',
      reached: true,
    });
  });
  test('what a router sends itself passes its outgoing filter, what it forwards does not', () => {
    const topology = filtered('filterOut4', 'g1', rule('deny'));
    expect(ask(topology, 'R', 'B', '192.0.2.11').answer).toBe('yes');
    expect(toB(topology).answer).toBe('no');
  });
});

describe('connections', () => {
  const open = (...rules: FilterRule[]) => filtered('filterIn4', 'g1', ...rules);
  test('open, refused, and who is told', () => {
    const topology = filtered(
      'filterIn4',
      'g0',
      rule('permit', 'tcp', { dstPorts: port(80) }),
      rule('permit', 'tcp', { dstPorts: port(22) }),
    );
    expect(connects(topology, 'A', 'B', '192.0.2.11', 80)).toBe('open');
    expect(connects(topology, 'A', 'B', '192.0.2.11', 22)).toBe('refused');
    // Whoever denies says so: the message finds back, since nothing filters what the router sends itself.
    expect(connects(topology, 'A', 'B', '192.0.2.11', 443)).toBe('unreachable');
  });
  test('answers of a connection are established (ACK), its beginning is not', () => {
    const topology = open(rule('permit', 'tcp', { established: true }));
    expect(connects(topology, 'A', 'B', '192.0.2.11', 80)).toBe('open');
    topology.devices.A!.settings!.services = { ssh: { enabled: true, port: 22 } };
    expect(connects(topology, 'B', 'A', '10.84.1.11', 22)).toBe('unreachable');
  });
  test('an answer that is lost is waited for in vain', () => {
    expect(connects(open(rule('deny')), 'A', 'B', '192.0.2.11', 80)).toBe('timeout');
  });
  test('who asks by UDP hears that it is forbidden, not that there is no way (RFC 1122 3.2.2.1)', () => {
    const udp = (topology: Topology, address: string) => {
      const probe: Probe = { protocol: 'udp', port: 53 };
      return attemptOf(analyse(topology), ask(topology, 'A', 'B', address, probe), probe);
    };
    expect(udp(filtered('filterIn4', 'g0', rule('permit', 'tcp')), '192.0.2.11')).toBe('unreachable');
    const free = network({ g0: {}, g1: {} }, {});
    expect([udp(free, '192.0.2.11'), udp(free, '192.0.2.99'), udp(free, '203.0.113.1')]).toEqual([
      'refused',
      'timeout',
      'timeout',
    ]);
    expect(connects(free, 'A', 'B', '203.0.113.1', 53)).toBe('unreachable');
  });
  test('a null route on the way says nothing', () => {
    const topology = network({ g0: {}, g1: {} }, { routes: [{ prefix: '192.0.2.8/29' }] });
    expect(connects(topology, 'A', 'B', '192.0.2.11', 80)).toBe('timeout');
  });
});

describe('address translation (RFC 3022)', () => {
  const sides = { g0: { natSide: 'inside' as const }, g1: { natSide: 'outside' as const } };
  /** B knows no way to 10.84.1.0/24: it only reaches what looks as if it were on its wire. */
  const translated = (nat: Settings['nat'], more: Settings = {}): Topology => {
    const topology = network(sides, { ...(nat && { nat }), ...more });
    delete topology.devices.B!.settings!.gateway4;
    return topology;
  };
  const overload = [{ kind: 'overload' as const, outsideInterface: 'g1' }];
  test('inside goes out under the address of the outside interface, and answers find back', () => {
    expect(ask(translated([]), 'A', 'B', '192.0.2.11').answer).toBe('no');
    const found = ask(translated(overload), 'A', 'B', '192.0.2.11');
    expect(found.answer).toBe('yes');
    expect(found.request.hops[1]!.decided).toContain('R translates: source 10.84.1.11 becomes 192.0.2.1.');
    expect(found.reply!.hops.map((hop) => hop.decided).join()).toContain('R translates back to 10.84.1.11.');
  });
  test('nobody outside begins a connection with the inside, but by a forwarded port', () => {
    const forward = {
      kind: 'portForward' as const,
      inside: '10.84.1.11',
      insidePort: 80,
      outsidePort: 8080,
      outsideInterface: 'g1',
    };
    const topology = translated([...overload, forward]);
    topology.devices.A!.settings!.services = { web: { enabled: true, port: 80 } };
    expect(ask(topology, 'B', 'A', '10.84.1.11').answer).toBe('no');
    const model = analyse(topology);
    const read = parseAddress('192.0.2.1');
    if (!read.ok) throw new Error();
    const found = model.reach.ask('B', { device: 'A', address: read.value }, tcp(8080));
    expect([found.answer, found.packet?.destinationPort]).toEqual(['yes', 80]);
  });
  test('a static translation works both ways, and the router answers for its address', () => {
    const fixed = [{ kind: 'static' as const, inside: '10.84.1.11', outside: '192.0.2.50' }];
    const topology = translated(fixed);
    expect(ask(topology, 'A', 'B', '192.0.2.11').packet?.source).toMatchObject({ value: 0xc0000232n });
    expect(ask(topology, 'B', 'A', '192.0.2.50').answer).toBe('yes');
  });
  test('a forwarded port at the router’s own address opens what is behind it, and is no address used twice', () => {
    const forward = { kind: 'portForward' as const, inside: '10.84.1.11', insidePort: 80, outsidePort: 8080 };
    const topology = translated([{ ...forward, outsideInterface: 'g1' }]);
    topology.devices.A!.settings!.services = { web: { enabled: true, port: 80 } };
    const model = analyse(topology);
    const found = ask(topology, 'B', 'R', '192.0.2.1', tcp(8080));
    expect([found.answer, found.request.delivered, attemptOf(model, found, tcp(8080))]).toEqual(['yes', 'A', 'open']);
    // At every other port it is the router itself that is asked.
    const other = ask(topology, 'B', 'R', '192.0.2.1', tcp(8081));
    expect([other.request.delivered, attemptOf(model, other, tcp(8081))]).toEqual(['R', 'refused']);
    expect(problemsOf(model).map(({ code }) => code)).not.toContain('DUPLICATE_ADDRESS');
    delete topology.devices.A!.settings!.services;
    expect(attemptOf(analyse(topology), ask(topology, 'B', 'R', '192.0.2.1', tcp(8080)), tcp(8080))).toBe('refused');
  });
  test('addresses that only a translation has can be asked for: who answers is the device behind them', () => {
    const nat: Settings['nat'] = [
      { kind: 'static', inside: '10.84.1.11', outside: '192.0.2.50' },
      { kind: 'portForward', inside: '10.84.1.11', outside: '192.0.2.51', outsidePort: 8080, insidePort: 80 },
      { kind: 'portForward', inside: '10.84.1.11', outside: '192.0.2.51', outsidePort: 8443, insidePort: 443 },
    ];
    const topology = translated(nat);
    topology.devices.A!.settings!.services = { web: { enabled: true, port: 80 } };
    const model = analyse(topology);
    const lent = model.reach.targets().map(({ device, address }) => `${device} ${formatAddress(address)}`);
    expect(lent.slice(-2)).toEqual(['A 192.0.2.50', 'R 192.0.2.51']);
    const [behind, forwarded] = model.reach.targets().slice(-2) as [Target, Target];
    expect(model.reach.answer('B', behind).answer).toBe('yes');
    const attempt = (port: number) => attemptOf(model, model.reach.ask('B', forwarded, tcp(port)), tcp(port));
    expect([attempt(8080), attempt(8443)]).toEqual(['open', 'refused']);
    // A grid counts them, each by its own port.
    const cell = (port: number) => {
      const grid = gridOf(model, { by: 'device', probe: tcp(port) });
      const [from, to] = ['B', 'R'].map((name) => grid.rows.findIndex((row) => row.name === name));
      return grid.yes[from! * grid.rows.length + to!];
    };
    expect([cell(8080), cell(8443)]).toEqual([1, 0]);
  });
  test('only sources that the rule speaks of are translated', () => {
    const of = (sources: string[], more: Settings = {}) =>
      ask(translated([{ ...overload[0]!, sources }], more), 'A', 'B', '192.0.2.11').answer;
    expect(of(['10.84.1.0/24'])).toBe('yes');
    expect(of(['10.84.2.0/24'])).toBe('no');
    const filters = { inside: { family: 4 as const, rules: [rule('permit', 'ip', { src: prefix('10.84.1.0/24') })] } };
    expect(of(['inside'], { filters })).toBe('yes');
  });
  test('a filter in sees the address outside before it is translated back, a filter out the inside before it is translated', () => {
    const filters = {
      f: { family: 4 as const, rules: [rule('permit', 'ip', { dst: prefix('192.0.2.1/32') })] },
      g: { family: 4 as const, rules: [rule('permit', 'ip', { src: prefix('10.84.1.0/24') })] },
    };
    const topology = network(
      { g0: sides.g0, g1: { ...sides.g1, filterIn4: 'f', filterOut4: 'g' } },
      { nat: overload, filters },
    );
    expect(ask(topology, 'A', 'B', '192.0.2.11').answer).toBe('yes');
    // In a lab whose equipment filters what leaves as it is translated, the inside is not seen any more.
    const later = analyse(topology, { filterOut: 'after-translation' });
    const target = later.reach.targets().find((target) => target.device === 'B')!;
    expect(later.reach.ask('A', target)).toMatchObject({ answer: 'no', reason: { code: 'FILTERED' } });
    const outside = structuredClone(topology);
    outside.devices.R!.settings!.filters!.g!.rules = [rule('permit', 'ip', { src: prefix('192.0.2.1/32') })];
    expect(analyse(outside, { filterOut: 'after-translation' }).reach.ask('A', target).answer).toBe('yes');
    expect(ask(outside, 'A', 'B', '192.0.2.11').answer).toBe('no');
  });
});
