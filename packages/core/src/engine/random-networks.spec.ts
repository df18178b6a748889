import fc from 'fast-check';
import { type BuiltNetwork, built, networkShapes } from '../tests/random-networks';
import { runs } from '../tests/runs';
import { type Topology } from '../topology';
import { type NetworkModel, analyse, problemsOf, trace } from '.';

type Ask = (from: string, to: string) => Record<string, string>;
/** What one host gets from each address of another one, by family. */
const asker =
  (model: NetworkModel): Ask =>
  (from, to) => {
    const addresses = (id: string) =>
      model.layer3.nodes
        .get(id)
        ?.interfaceStates.flatMap((interfaceState) => interfaceState.addresses.map((on) => on.address)) ?? [];
    const families = new Set(addresses(from).map((address) => address.family));
    return Object.fromEntries(
      addresses(to)
        .filter((address) => families.has(address.family))
        .map((address) => [`IPv${address.family}`, model.reach.answer(from, { device: to, address }).answer]),
    );
  };
function* pairs(hosts: BuiltNetwork['hosts']) {
  for (const from of hosts) for (const to of hosts) if (from !== to) yield [from, to] as const;
}
const changed = (topology: Topology, change: (copy: Topology) => void): NetworkModel => {
  const copy = structuredClone(topology);
  change(copy);
  return analyse(copy);
};
const RUNS = { numRuns: runs(20) };
const withHosts = networkShapes.map(built).filter(({ hosts }) => hosts.length > 1);

describe('networks built at random, without a mistake', () => {
  test('everybody reaches everybody, and nothing is found wrong that keeps packets away', () => {
    fc.assert(
      fc.property(withHosts, ({ topology, hosts }) => {
        const model = analyse(topology);
        const ask = asker(model);
        for (const [from, to] of pairs(hosts)) {
          const answers = ask(from.id, to.id);
          expect(Object.keys(answers)).toContain('IPv4');
          expect([from.id, to.id, new Set(Object.values(answers))]).toEqual([from.id, to.id, new Set(['yes'])]);
        }
        const harmful = new Set([
          'STORM',
          'DUPLICATE_ADDRESS',
          'GATEWAY_OUTSIDE',
          'DHCP_NOBODY',
          'NO_RETURN_ROUTE',
          'BUNDLE_NOT_FORMED',
        ]);
        expect(problemsOf(model).filter((problem) => harmful.has(problem.code))).toEqual([]);
      }),
      RUNS,
    );
  });
  test('a cable that is cut takes its host away, and nobody else', () => {
    fc.assert(
      fc.property(withHosts, fc.nat(), ({ topology, hosts }, number) => {
        const lost = hosts[number % hosts.length]!;
        const ask = asker(changed(topology, ({ links }) => (links[lost.link]!.broken = true)));
        for (const [from, to] of pairs(hosts)) {
          const answers = Object.values(ask(from.id, to.id));
          const isCut = from === lost || to === lost;
          expect(answers.every((answer) => answer === (isCut ? 'no' : 'yes'))).toBe(true);
        }
      }),
      RUNS,
    );
  });
  test('a host without a gateway reaches its own network and nothing beyond, and nobody beyond gets an answer', () => {
    fc.assert(
      fc.property(withHosts, fc.nat(), ({ topology, hosts }, number) => {
        const typed = hosts.filter(({ id }) => topology.devices[id]!.settings!.gateway4);
        fc.pre(typed.length > 0);
        const lone = typed[number % typed.length]!;
        const ask = asker(changed(topology, ({ devices }) => delete devices[lone.id]!.settings!.gateway4));
        for (const [from, to] of pairs(hosts)) {
          const isFar = (from === lone || to === lone) && from.lan !== to.lan;
          expect([from.id, to.id, ask(from.id, to.id).IPv4]).toEqual([from.id, to.id, isFar ? 'no' : 'yes']);
        }
      }),
      RUNS,
    );
  });
  test('one more cable between switches that speak of a tree changes no answer', () => {
    fc.assert(
      fc.property(
        networkShapes.map((shape) =>
          built({ ...shape, lans: shape.lans.map((lan) => ({ ...lan, kind: 'redundant' as const })) }),
        ),
        ({ topology, hosts }) => {
          const model = changed(topology, ({ links }) => {
            const trunks = Object.values(links).filter(({ a, b }) =>
              [a, b].every((end) => topology.devices[end.device]!.model === 'switch'),
            );
            const [first] = trunks;
            if (!first) return;
            const free = (device: string) =>
              Array.from({ length: 24 }, (_, at) => `p${at}`).find(
                (port) =>
                  !Object.values(links).some(({ a, b }) =>
                    [a, b].some((end) => end.device === device && end.port === port),
                  ),
              )!;
            links.more = {
              a: { device: first.a.device, port: free(first.a.device) },
              b: { device: first.b.device, port: free(first.b.device) },
              medium: 'straight',
            };
          });
          expect(model.layer2.storms.size).toBe(0);
          const ask = asker(model);
          for (const [from, to] of pairs(hosts))
            expect(new Set(Object.values(ask(from.id, to.id)))).toEqual(new Set(['yes']));
        },
      ),
      RUNS,
    );
  });
  test('what is denied to one host at its router is denied to it alone, whichever way it is asked', () => {
    fc.assert(
      fc.property(withHosts, fc.nat(), ({ topology, hosts }, number) => {
        const typed = hosts.filter(({ id }) => topology.devices[id]!.settings!.gateway4);
        fc.pre(typed.length > 0);
        const denied = typed[number % typed.length]!;
        const on = Object.values(topology.devices[denied.id]!.interfaces!)[0]!.v4!.addresses![0]!;
        const any = { kind: 'any' as const };
        const host = { kind: 'prefix' as const, prefix: on.replace(/\/\d+$/, '/32') };
        const model = changed(topology, ({ devices }) => {
          for (const device of Object.values(devices).filter((device) => device.model === 'router')) {
            device.settings!.filters = {
              keep: {
                family: 4,
                rules: [
                  { action: 'deny', proto: 'icmp', src: host, dst: any },
                  { action: 'permit', proto: 'ip', src: any, dst: any },
                ],
              },
            };
            for (const interfaceConfig of Object.values(device.interfaces!)) interfaceConfig.filterIn4 = 'keep';
          }
        });
        const ask = asker(model);
        for (const [from, to] of pairs(hosts)) {
          const isDenied = (from === denied || to === denied) && from.lan !== to.lan;
          expect([from.id, to.id, ask(from.id, to.id).IPv4]).toEqual([from.id, to.id, isDenied ? 'no' : 'yes']);
        }
      }),
      RUNS,
    );
  });
  test('the way of a packet is a way of the drawing: each frame goes on where others ended, and no device is passed twice', () => {
    fc.assert(
      fc.property(withHosts, ({ topology, hosts }) => {
        const model = analyse(topology);
        const [from, to] = [hosts[0]!, hosts.at(-1)!];
        const own = model.layer3.nodes.get(to.id)!.interfaceStates[0]!.addresses;
        const { address } = own.find((on) => on.address.family === 4)!;
        const found = trace(model, from.id, to.id, address);
        for (const way of [found.request, found.reply!]) {
          expect(new Set(way.hops.map((hop) => hop.device)).size).toBe(way.hops.length);
          for (const [at, hop] of way.hops.entries()) {
            const next = way.hops[at + 1];
            if (!next) continue;
            const here = new Set([hop.device]);
            // A hub repeats a frame on all its cables: these stand together, in any order.
            const waiting = [...hop.frames];
            while (waiting.length) {
              const place = waiting.findIndex((frame) =>
                frame.kind === 'bridge'
                  ? here.has(frame.device)
                  : [topology.links[frame.link]!.a, topology.links[frame.link]!.b].some((end) => here.has(end.device)),
              );
              expect(place).toBeGreaterThanOrEqual(0);
              const [frame] = waiting.splice(place, 1);
              if (frame!.kind !== 'link') continue;
              for (const end of [topology.links[frame!.link]!.a, topology.links[frame!.link]!.b]) here.add(end.device);
            }
            expect(here.has(next.device)).toBe(true);
          }
        }
      }),
      RUNS,
    );
  });
});
