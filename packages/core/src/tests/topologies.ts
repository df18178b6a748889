import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { readLabText } from '../formats';
import { type LabFile } from '../spec';
import { type Device, type Link, type Medium, type Topology, emptyTopology } from '../topology';

export const repository = path.resolve(__dirname, '..', '..', '..', '..');
export const readJson = (...parts: string[]): unknown =>
  JSON.parse(readFileSync(path.join(repository, ...parts), 'utf8'));
export const filesIn = (...parts: string[]): string[] =>
  readdirSync(path.join(repository, ...parts))
    .filter((name) => name.endsWith('.json'))
    .sort();

/** A lab of the demo. */
export function demoLab(slug: string): LabFile {
  const read = readLabText(JSON.stringify(readJson('demo', slug, 'lab.json')));
  if (!read.ok) throw new Error(read.error[0]!.text);
  return read.value;
}

/** Builds drawings for tests: devices with addresses in a line, cables as "A g0 – B p1". */
export class Sheet {
  readonly topology: Topology = emptyTopology();

  device(id: string, model: string, addresses: Record<string, string> = {}, more: Partial<Device> = {}): this {
    const interfaces = Object.fromEntries(
      Object.entries(addresses).map(([port, address]) => [
        port,
        { on: { kind: 'port' as const, port }, v4: { addresses: [address] } },
      ]),
    );
    this.topology.devices[id] = {
      name: id,
      model,
      at: { x: 0, y: 0 },
      ...(Object.keys(interfaces).length && { interfaces }),
      ...more,
    };
    return this;
  }

  host(id: string, address: string, gateway4?: string): this {
    return this.device(id, 'desktop', { e0: address }, gateway4 === undefined ? {} : { settings: { gateway4 } });
  }

  cable(from: string, to: string, medium: Medium = 'straight', more: Partial<Link> = {}): this {
    const end = (text: string) => {
      const [device, port] = text.split(' ') as [string, string];
      return { device, port };
    };
    this.topology.links[`${from} – ${to}`.replaceAll(/[^A-Za-z0-9]+/g, '-')] = {
      a: end(from),
      b: end(to),
      medium,
      ...more,
    };
    return this;
  }
}

/** A router with two LANs of one host each: the smallest drawing in which a packet is forwarded. */
export const twoLans = (): Topology =>
  new Sheet()
    .device('R', 'border-router', { g0: '10.84.1.1/24', g1: '10.84.2.1/24' })
    .device('SA', 'access-switch-12')
    .device('SB', 'access-switch-12')
    .host('A', '10.84.1.11/24', '10.84.1.1')
    .host('B', '10.84.2.11/24', '10.84.2.1')
    .cable('R g0', 'SA u1')
    .cable('R g1', 'SB u1')
    .cable('SA p1', 'A e0')
    .cable('SB p1', 'B e0').topology;

/** The same network with each cable laid through as many patch panels as `count` says of it. */
export function overPanels(topology: Topology, count: (at: number) => number): Topology {
  const laid = structuredClone(topology);
  for (const [at, [id, link]] of Object.entries(topology.links).entries()) {
    if (link.medium !== 'straight') continue;
    let from = link.a;
    for (let nth = 0; nth < count(at); nth++) {
      const panel = `panel-${id}-${nth}`;
      laid.devices[panel] = { name: panel, model: 'patch-panel-24', at: { x: 0, y: 0 } };
      laid.links[`${id}-${nth}`] = { ...link, a: from, b: { device: panel, port: 'r3' } };
      from = { device: panel, port: 'p3' };
    }
    laid.links[id] = { ...link, a: from };
  }
  return laid;
}
