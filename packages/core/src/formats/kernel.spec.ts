import { analyse } from '../engine';
import { readTopology } from '../topology';
import { filesIn, readJson } from '../tests/topologies';
import {
  type CaseComparison,
  type CaseFile,
  type CaseNode,
  type CaseTopology,
  type Otherwise,
  EVIDENCE,
  compareCase,
  isByChance,
  readCase,
} from '.';
import { writeCase } from '../tests/write-case';
import { noEvidence } from './kernel-evidence';

const casesIn = (folder: string) =>
  filesIn('fixtures', folder)
    .filter((name) => name !== 'otherwise.json')
    .map((name) => [name, readJson('fixtures', folder, name) as CaseFile] as const);
const cases = casesIn('kernel-cases');
const harder = casesIn('kernel-cases-2');
const otherwise = readJson('fixtures', 'kernel-cases-2', 'otherwise.json') as Otherwise[];

/** Comparisons of the cases, each made once. */
const known = new Map<CaseFile, CaseComparison>();
function compared(file: CaseFile): CaseComparison {
  let found = known.get(file);
  if (!found) known.set(file, (found = compareCase(file)));
  return found;
}

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

test('there are 120 cases, and 60 harder ones', () => expect([cases.length, harder.length]).toEqual([120, 60]));

test.each(harder)(
  '%s: the engine answers what the kernel answered, or what a standard says, or that it is chance',
  (name, file) => {
    const drawing = readCase(file.topology);
    expect(readTopology(JSON.parse(JSON.stringify(drawing)))).toEqual({ ok: true, value: drawing });
    const listed = otherwise.flatMap((entry) => (entry.file === name ? entry.rows : []));
    const differing = compared(file).disagreements.filter((row) => !isByChance(row));
    expect(differing.map(({ from, to, address }) => `${from} ${to} ${address}`)).toEqual(listed);
  },
);

test('of harder networks routes, leases and what is down are as measured, and why requests end where that is not chance', () => {
  const differs = harder.flatMap(([name, file]) => {
    const { evidence } = compared(file);
    return (['routes', 'leases', 'down', 'why', 'reached'] as const).flatMap((kind) =>
      evidence[kind].differs.map((differ) => `${name} ${kind} ${differ}`),
    );
  });
  // Where a standard says otherwise, and where one of several equal ways is taken, reasons and tables differ with it.
  const named = otherwise.map(({ file }) => file);
  const others = differs.filter(
    (differ) => ![...named, '003-twohomed', '004-twohomed'].some((at) => differ.startsWith(at)),
  );
  expect(others).toEqual([]);
});

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
  const { disagreements, pairs, agree, tcp, tcpAgree } = compared(file);
  expect(disagreements).toEqual([]);
  expect([agree, tcpAgree]).toEqual([pairs, tcp]);
});

test('routes, leases, traces, what is down, and why and where requests end are as measured', () => {
  const sum = noEvidence();
  for (const [name, file] of cases) {
    const { evidence } = compared(file);
    for (const kind of EVIDENCE) {
      sum[kind].of += evidence[kind].of;
      sum[kind].differs.push(...evidence[kind].differs.map((differ) => `${name} ${differ}`));
    }
  }
  expect(EVIDENCE.flatMap((kind) => sum[kind].differs)).toEqual([]);
  const { routes, leases, traces, down, complains } = sum;
  expect([routes.of, leases.of, traces.of, down.of, complains.of].every((count) => count >= 18)).toBe(true);
});

test('a file that says what the reader does not know is refused by name', () => {
  const [, file] = cases[0]!;
  const strange = structuredClone(file.topology);
  Object.assign(strange.nodes[0]!, { multicast: true });
  expect(() => readCase(strange)).toThrow(`${strange.nodes[0]!.id}: "multicast" is not read`);
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
