import { analyse } from '../engine';
import { readTopology } from '../topology';
import { filesIn, readJson } from '../tests/topologies';
import { type CaseFile, type CaseNode, type CaseTopology, EVIDENCE, compareCase, readCase, writeCase } from '.';
import { noEvidence } from './kernel-evidence';

const cases = filesIn('fixtures', 'kernel-cases').map(
  (name) => [name, readJson('fixtures', 'kernel-cases', name) as CaseFile] as const,
);

/** A case with every default said and every order fixed, so that two ways to say the same compare equal. */
function plain(topology: Pick<CaseTopology, 'nodes' | 'links'>): unknown {
  const byText = <T>(list: readonly T[]): T[] =>
    [...list].sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1));
  const families = (list: readonly string[] = []): string[] => [
    ...list.filter((address) => !address.includes(':')),
    ...list.filter((address) => address.includes(':')),
  ];
  const node = (node: CaseNode): unknown => ({
    id: node.id,
    kind: node.kind,
    gateway4: node.gateway4,
    gateway6: node.gateway6,
    stp: node.stp,
    stp_priority: node.stp_priority,
    nat: node.nat && { ...node.nat, inside: byText(node.nat.inside) },
    interfaces: byText(
      node.interfaces.map((interfaceConfig) => ({
        name: interfaceConfig.name,
        up: interfaceConfig.up ?? true,
        mac: interfaceConfig.mac,
        dhcp: interfaceConfig.dhcp ?? false,
        addresses: families(interfaceConfig.addresses),
        mode: interfaceConfig.mode ?? (node.kind === 'switch' || node.kind === 'l3switch' ? 'access' : undefined),
        vlan:
          interfaceConfig.mode === 'trunk' ||
          interfaceConfig.mode === 'routed' ||
          !['switch', 'l3switch'].includes(node.kind)
            ? undefined
            : (interfaceConfig.vlan ?? 1),
        allowed: interfaceConfig.mode === 'trunk' ? (interfaceConfig.allowed ?? 'all') : undefined,
        native: interfaceConfig.mode === 'trunk' ? (interfaceConfig.native ?? 1) : undefined,
        subinterfaces: byText(
          (interfaceConfig.subinterfaces ?? []).map((sub) => ({
            vlan: sub.vlan,
            addresses: families(sub.addresses),
            up: sub.up ?? true,
          })),
        ),
      })),
    ),
    svis: byText(
      (node.svis ?? []).map((svi) => ({ vlan: svi.vlan, addresses: families(svi.addresses), up: svi.up ?? true })),
    ),
    static_routes: byText(
      [
        ...(node.static_routes ?? []),
        ...(node.default4 ? [{ prefix: '0.0.0.0/0', via: node.default4 }] : []),
        ...(node.default6 ? [{ prefix: '::/0', via: node.default6 }] : []),
      ].map((route) => ({ prefix: route.prefix, via: route.via, distance: route.distance ?? 1 })),
    ),
    ospf: node.ospf && {
      router_id: node.ospf.router_id,
      networks: byText((node.ospf.networks ?? []).map(({ prefix, area }) => ({ prefix, area: Number(area) }))),
      passive: byText(node.ospf.passive ?? []),
      costs: Object.entries(node.ospf.costs ?? {}).sort(),
      redistribute: byText(node.ospf.redistribute ?? []),
      default_originate: node.ospf.default_originate ?? false,
    },
    rip: node.rip && {
      version: 2,
      networks: byText(node.rip.networks ?? []),
      passive: byText(node.rip.passive ?? []),
      redistribute: byText(node.rip.redistribute ?? []),
      default_originate: node.rip.default_originate ?? false,
    },
    dhcp_server: node.dhcp_server && {
      pools: node.dhcp_server.pools.map((pool) => ({
        network: pool.network,
        range: pool.range,
        router: pool.router ?? null,
      })),
    },
    dhcp_relay: byText(node.dhcp_relay ?? []),
    filters: byText(
      (node.filters ?? []).map((filter) => ({
        interface: filter.interface,
        direction: filter.direction,
        family: filter.family ?? 4,
        rules: filter.rules.map((rule) => ({
          action: rule.action,
          proto: rule.proto ?? 'ip',
          src: rule.src ?? 'any',
          dst: rule.dst ?? 'any',
          dport: rule.dport,
          sport: rule.sport,
          icmp_type: rule.icmp_type,
          established: rule.established ?? false,
        })),
      })),
    ),
  });
  return {
    nodes: byText(topology.nodes.map(node)),
    links: byText(topology.links.map((link) => ({ a: link.a, b: link.b, up: link.up ?? true }))),
  };
}

test('there are 120 cases', () => expect(cases).toHaveLength(120));

test.each(cases)('%s becomes a valid document, and nothing is lost on the way', (_name, file) => {
  const topology = readCase(file.topology);
  const read = readTopology(JSON.parse(JSON.stringify(topology)));
  expect(read.ok ? [] : read.error).toEqual([]);
  expect(plain(writeCase(topology))).toEqual(plain(file.topology));
  const listening = (file.topology.tests?.tcp ?? []).filter((probe) => probe.listen !== false);
  for (const probe of listening)
    expect(topology.devices[probe.to]!.settings!.services![`tcp-${probe.port}`]).toEqual({
      enabled: true,
      port: probe.port,
    });
});

test.each(cases)('%s: the engine answers what the kernel answered', (_name, file) => {
  const { disagreements, pairs, agree, tcp, tcpAgree } = compareCase(file);
  expect(disagreements).toEqual([]);
  expect([agree, tcpAgree]).toEqual([pairs, tcp]);
});

test('routes, leases, traces, what is down, and why and where requests end are as measured', () => {
  const sum = noEvidence();
  for (const [name, file] of cases) {
    const { evidence } = compareCase(file);
    for (const kind of EVIDENCE) {
      sum[kind].of += evidence[kind].of;
      sum[kind].differs.push(...evidence[kind].differs.map((differ) => `${name} ${differ}`));
    }
  }
  const { routes, leases, traces, down, reached, why, complains } = sum;
  expect([routes, leases, traces, down, complains].flatMap((route) => route.differs)).toEqual([]);
  expect([routes.of, leases.of, traces.of, down.of, complains.of].every((count) => count >= 18)).toBe(true);
  // One host on a one-way wire learns the router's MAC from its question: see decision 18.
  for (const { differs } of [reached, why])
    expect(differs.filter((differ) => !differ.startsWith('042-roas.json h5'))).toEqual([]);
  expect([reached.differs.length, why.differs.length]).toEqual([8, 9]);
});

test('an answer put together from where packets end is that of the trace', () => {
  for (const [name, file] of cases) {
    const { reach } = analyse(readCase(file.topology));
    const devices = new Set(reach.targets().map((target) => target.device));
    for (const from of devices)
      for (const target of reach.targets()) {
        if (target.device === from) continue;
        const { answer, reached, direction } = reach.ask(from, target);
        expect([name, from, target, reach.answer(from, target)]).toMatchObject([
          name,
          from,
          target,
          { answer, reached, direction },
        ]);
      }
  }
});

test('a pair asked by its class answers as if asked alone', () => {
  // compareCase asks in the file's order; asking backwards fills the classes by other pairs.
  for (const [, file] of cases.filter(([, file]) =>
    ['faulty', 'static', 'filter', 'nat', 'ospf'].includes(file.topology.family),
  )) {
    const turned = { ...file, expected: { ...file.expected, pings: [...file.expected.pings].reverse() } };
    expect(compareCase(turned).disagreements).toEqual([]);
  }
});
