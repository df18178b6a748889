import { emptyTopology } from '../topology';
import { readGraphml, readRfc8345, readSheets, readTables, readTopologyText, readYaml } from '.';

// Nothing here is timed: what takes its time with the square of what it reads does not come to an end.
const many = <T>(count: number, make: (at: number) => T): T[] => Array.from({ length: count }, (_, at) => make(at));
const graphml = (inner: string): string =>
  `<graphml xmlns="http://graphml.graphdrawing.org/xmlns"><graph id="G" edgedefault="undirected">${inner}</graph></graphml>`;
const nodes = (count: number): string => many(count, (at) => `<node id="n${at}"/>`).join('');

describe('large and hostile files are read in time, or refused in a sentence', () => {
  test.each<[string, () => { ok: boolean; error?: readonly { text: string }[] }]>([
    ['YAML of 190,000 keys', () => readYaml(many(190_000, (at) => `k${at}: 1`).join('\n'))],
    ['YAML of one key 20,000 times', () => readYaml('a: 1\n'.repeat(20_000))],
    ['YAML of a list of 60,000', () => readYaml(`a: [${'1, '.repeat(60_000)}1]`)],
    ['YAML of 20,000 anchors', () => readYaml(many(20_000, (at) => `k${at}: &a${at} 1`).join('\n'))],
    ['YAML of quotes', () => readYaml('"'.repeat(1_900_000))],
    ['YAML of colons', () => readYaml(':'.repeat(1_900_000))],
    ['YAML of dashes', () => readYaml('- '.repeat(900_000))],
    ['YAML of question marks', () => readYaml('? '.repeat(900_000))],
    ['GraphML 100,000 levels deep', () => readGraphml(graphml('<a>'.repeat(100_000)))],
    ['GraphML that is never closed', () => readGraphml('<graphml'.repeat(1_000_000))],
    [
      'GraphML of 50,000 attributes',
      () => readGraphml(graphml(`<node ${many(50_000, (at) => `a${at}="1"`).join(' ')}/>`)),
    ],
    [
      'GraphML of 40,000 edges between two',
      () => readGraphml(graphml(`${nodes(2)}${'<edge source="n0" target="n1"/>'.repeat(40_000)}`)),
    ],
    ['GraphML of 20,000 nodes', () => readGraphml(graphml(nodes(20_000)))],
    ['GraphML of 20,000 nodes of one name', () => readGraphml(graphml('<node id="n"/>'.repeat(20_000)))],
    [
      'RFC 8345 of 8,000 links',
      () =>
        readRfc8345(
          JSON.stringify({
            'ietf-network:networks': {
              network: [
                {
                  'network-id': 'n',
                  node: many(1_000, (at) => ({ 'node-id': `n${at}` })),
                  'ietf-network-topology:link': many(8_000, (at) => ({
                    'link-id': `l${at}`,
                    source: { 'source-node': `n${at % 1000}` },
                    destination: { 'dest-node': `n${(at * 7 + 1) % 1000}` },
                  })),
                },
              ],
            },
          }),
        ),
    ],
    ['a CSV of 50,000 columns', () => readSheets({ 'a.csv': `Name,${'x,'.repeat(50_000)}` }, emptyTopology())],
    ['a CSV of quotes', () => readSheets({ 'a.csv': `Name\n${'"'.repeat(300_000)}` }, emptyTopology())],
    [
      'tables of 50,000 rows',
      () =>
        readTables({
          'topology.csv': 'key,value\n',
          'devices.csv': `id,name\n${many(50_000, (at) => `d${at},x`).join('\n')}`,
        }),
    ],
    [
      'JSON of 100,000 devices that are none',
      () =>
        readTopologyText(
          `{"format":"sobrin-topology","version":1,"sites":{},"links":{},"devices":{${many(100_000, (at) => `"k${at}":1`).join(',')}}}`,
        ),
    ],
  ])('%s', (_what, read) => {
    const done = read();
    if (done.ok) return;
    expect(done.error!.length).toBeLessThanOrEqual(1000);
    for (const { text } of done.error!) expect(text).toMatch(/[.:!?]$/);
  });

  test('20,000 links between 2,000 switches in a CSV: all that have a port are taken', () => {
    const links = many(20_000, (at) => `SW-${at % 2000},SW-${(at * 7 + 1) % 2000}`);
    const read = readSheets({ 'links.csv': `From,To\n${links.join('\n')}` }, emptyTopology());
    if (!read.ok) throw new Error(JSON.stringify(read.error));
    expect(Object.keys(read.value.topology.devices).length).toBe(2000);
    expect(Object.keys(read.value.topology.links).length).toBeGreaterThan(15_000);
  });

  test('10,000 edges of 1,000 nodes with ports that are named', () => {
    const edges = many(
      10_000,
      (at) =>
        `<edge source="n${at % 1000}" target="n${(at * 7 + 1) % 1000}" sourceport="p${at % 20}" targetport="p${at % 20}"/>`,
    );
    const read = readGraphml(graphml(`${nodes(1000)}${edges.join('')}`));
    if (!read.ok) throw new Error(JSON.stringify(read.error).slice(0, 500));
    expect(Object.keys(read.value.topology.links).length).toBeGreaterThan(7_000);
  });
});
