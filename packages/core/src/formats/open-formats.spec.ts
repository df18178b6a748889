import fc from 'fast-check';
import { drawings } from '../tests/arbitrary';
import { demoLab } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type Problem, type Topology, modelOf } from '../topology';
import { type Result } from '../result';
import { type Imported, readGraphml, readRfc8345, writeDot, writeGraphml, writeRfc8345 } from '.';

const drawing = demoLab('three-stations').reference;
const got = (read: Result<Imported, Problem[]>): Imported => {
  if (!read.ok) throw new Error(read.error[0]!.text);
  return read.value;
};
const refused = (read: Result<Imported, Problem[]>): string => {
  if (read.ok) throw new Error('It was taken.');
  return `${read.error[0]!.place}: ${read.error[0]!.text}`;
};
/** What every format of graphs keeps: devices with names, sites and addresses, and which port is cabled to which. */
const gist = ({ devices, links, sites }: Topology) => ({
  devices: Object.values(devices)
    .map(({ name, site, at, interfaces }) => ({
      name,
      at,
      site: site === undefined ? null : sites[site]!.name,
      addresses: Object.values(interfaces ?? {}).flatMap(({ v4 }) => v4?.addresses ?? []),
    }))
    .sort((a, b) => (a.name < b.name ? -1 : 1)),
  links: Object.values(links)
    .map(({ a, b, medium }) => `${devices[a.device]!.name} ${a.port} ${medium} ${devices[b.device]!.name} ${b.port}`)
    .sort(),
});

describe('RFC 8345', () => {
  test('every drawing comes back to the letter', () => {
    fc.assert(
      fc.property(drawings, (topology) => {
        expect(readRfc8345(writeRfc8345(topology))).toEqual({ ok: true, value: { topology: topology, left: [] } });
      }),
      { numRuns: runs(25) },
    );
  });
  test('a cable is two links, one each way, between termination points that its nodes have (section 4.4.5)', () => {
    type Named = Record<string, string>;
    const [network] = (
      JSON.parse(writeRfc8345(drawing)) as { 'ietf-network:networks': { network: Record<string, unknown>[] } }
    )['ietf-network:networks'].network;
    const nodes = network!.node as Record<string, unknown>[];
    const links = network!['ietf-network-topology:link'] as Record<string, Named>[];
    expect([nodes.length, links.length]).toEqual([39, 2 * 38]);
    const points = new Set(
      nodes.flatMap((node) =>
        (node['ietf-network-topology:termination-point'] as Named[]).map(
          (point) => `${String(node['node-id'])} ${point['tp-id']!}`,
        ),
      ),
    );
    for (const { source, destination } of links) {
      expect(points).toContain(`${source!['source-node']} ${source!['source-tp']}`);
      expect(points).toContain(`${destination!['dest-node']} ${destination!['dest-tp']}`);
    }
  });
  test('a file of other software is read by its nodes, points and links; what is not said is told', () => {
    const point = (id: string) => ({ 'tp-id': id });
    const link = (id: string, a: [string, string], b: [string, string]) => ({
      'link-id': id,
      source: { 'source-node': a[0], 'source-tp': a[1] },
      destination: { 'dest-node': b[0], 'dest-tp': b[1] },
    });
    const file = {
      'ietf-network:networks': {
        network: [
          { 'network-id': 'empty' },
          {
            'network-id': 'depot',
            node: [
              {
                'node-id': 'n1',
                'ietf-l3-unicast-topology:l3-node-attributes': { name: 'router one' },
                'ietf-network-topology:termination-point': [point('eth 1/0/1'), point('eth 1/0/2')],
              },
              { 'node-id': 'n2', 'ietf-network-topology:termination-point': [point('1')] },
            ],
            'ietf-network-topology:link': [
              link('f', ['n1', 'eth 1/0/1'], ['n2', '1']),
              link('r', ['n2', '1'], ['n1', 'eth 1/0/1']),
              link('x', ['n1', 'eth 1/0/2'], ['n9', '1']),
            ],
          },
        ],
      },
    };
    const { topology, left } = got(readRfc8345(JSON.stringify(file)));
    expect(topology.title).toBe('depot');
    expect(modelOf(topology, topology.devices.n1!)).toMatchObject({
      kind: 'router',
      ports: [{ key: 'eth-1/0/1' }, { key: 'eth-1/0/2' }],
    });
    expect(Object.values(topology.links)).toEqual([
      {
        a: { device: 'n1', port: 'eth-1/0/1' },
        b: { device: 'n2', port: '1' },
        medium: expect.stringMatching(/straight|crossover/) as string,
      },
    ]);
    expect(left).toEqual([
      'The file holds 2 networks: the first one with nodes was read.',
      'The kind of n2 is not said: it was taken as a switch or a host by its links.',
      'The link from "n1" to "n9" was left out: there is no "n9".',
    ]);
  });
  test('a file without networks is refused in a sentence', () => {
    expect(refused(readRfc8345('{"a": 1}'))).toBe(
      'ietf-network:networks: The file holds no network with nodes, as RFC 8345 has them.',
    );
    expect(refused(readRfc8345('{'))).toMatch(/no JSON: line 1/);
  });
});

describe('GraphML', () => {
  test('devices with names, sites, places and addresses come back, and links with ports and media', () => {
    const { topology, left } = got(readGraphml(writeGraphml(drawing)));
    // The fibre ports of a modular router are in its bays, which GraphML does not tell: it gets ports of these names.
    expect(gist(topology)).toEqual(gist(drawing));
    expect(left).toEqual([]);
  });
  const file = (inside: string, head = '') =>
    `<?xml version="1.0"?>${head}<graphml xmlns="http://graphml.graphdrawing.org/xmlns" xmlns:z="http://example.com/z"><key id="k" attr.name="label" for="node"/><graph edgedefault="undirected">${inside}</graph></graphml>`;
  test('labels of other software are names, its own elements are left out and told', () => {
    const { topology, left } = got(
      readGraphml(
        file(
          '<node id="a"><data key="k">switch 1</data><z:shape/></node><node id="b"><data key="k">PC &amp; co</data></node><edge source="a" target="b"/>',
        ),
      ),
    );
    expect(Object.values(topology.devices).map((device) => [device.name, modelOf(topology, device)!.kind])).toEqual([
      ['switch 1', 'switch'],
      ['PC & co', 'desktop'],
    ]);
    expect(Object.keys(topology.links)).toHaveLength(1);
    expect(left).toEqual(['1 element "z" was left out.']);
  });
  test('entities, broken and endless files are refused with the line', () => {
    const bomb = '<!DOCTYPE g [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">]>\n';
    expect(refused(readGraphml(file('<node id="a"/>', bomb)))).toMatch(
      /^line \d: A document type with entities is not taken/,
    );
    expect(refused(readGraphml('<graphml>\n<node>\n</graphml>'))).toMatch(/^line 3: This is no XML/);
    expect(refused(readGraphml('<graphml>'.repeat(100_000)))).toMatch(/nested deeper than 32 levels/);
    expect(refused(readGraphml(file('')))).toBe(': The file holds no nodes.');
  });
  test('any name is written so that it is read again', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 40 }).filter((text) => text.trim() !== ''),
        (name) => {
          const topology = {
            ...drawing,
            devices: { a: { name, model: 'desktop', at: { x: 0, y: 0 } } },
            links: {},
            sites: {},
          };
          const writable = name.replaceAll(/[^\P{Cc}\t\n\r\u007f-\u009f]|[\ufffe\uffff]/gu, '');
          if (writable.trim()) expect(got(readGraphml(writeGraphml(topology))).topology.devices.a!.name).toBe(writable);
        },
      ),
    );
  });
});

test('DOT has a cluster for each site, a box for each device and an edge with both ports for each link', () => {
  const text = writeDot(drawing);
  expect(text.match(/subgraph "cluster /g)).toHaveLength(3);
  expect(text.match(/^\s+"[^"]+" \[label=/gm)).toHaveLength(39);
  expect(text.match(/ -- .*taillabel="[^"]+", headlabel="[^"]+"/g)).toHaveLength(38);
  expect(writeDot({ ...drawing, title: 'a "b" \\ c' })).toMatch(/^graph "a \\"b\\" \\\\ c" \{/);
});
