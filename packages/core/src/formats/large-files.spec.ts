import { runs } from '../tests/runs';
import { emptyTopology } from '../topology';
import { readGraphml, readRfc8345, readSheets, readTables, readTopologyText, readYaml } from '.';

// Nothing here is timed: what takes its time with the square of what it reads does not come to an end.
/** In the tests a tenth, in `npm run fuzz` the whole. */
const of = (count: number): number => (runs(1) > 1 ? count : count / 10);
const many = <T>(count: number, make: (at: number) => T): T[] => Array.from({ length: count }, (_, at) => make(at));
const graphml = (inner: string): string =>
  `<graphml xmlns="http://graphml.graphdrawing.org/xmlns"><graph id="G" edgedefault="undirected">${inner}</graph></graphml>`;
const nodes = (count: number): string => many(count, (at) => `<node id="n${at}"/>`).join('');

describe('large and hostile files are read in time, or refused in a sentence', () => {
  test.each<[string, () => { ok: boolean; error?: readonly { text: string }[] }]>([
    ['YAML of 190,000 keys', () => readYaml(many(of(190_000), (at) => `k${at}: 1`).join('\n'))],
    ['YAML of one key 20,000 times', () => readYaml('a: 1\n'.repeat(of(20_000)))],
    ['YAML of a list of 60,000', () => readYaml(`a: [${'1, '.repeat(of(60_000))}1]`)],
    ['YAML of 20,000 anchors', () => readYaml(many(of(20_000), (at) => `k${at}: &a${at} 1`).join('\n'))],
    ['YAML of quotes', () => readYaml('"'.repeat(1_900_000))],
    ['YAML of colons', () => readYaml(':'.repeat(1_900_000))],
    ['YAML of dashes', () => readYaml('- '.repeat(of(900_000)))],
    ['YAML of question marks', () => readYaml('? '.repeat(of(900_000)))],
    ['GraphML 100,000 levels deep', () => readGraphml(graphml('<a>'.repeat(of(100_000))))],
    ['GraphML that is never closed', () => readGraphml('<graphml'.repeat(1_000_000))],
    [
      'GraphML of 50,000 attributes',
      () => readGraphml(graphml(`<node ${many(of(50_000), (at) => `a${at}="1"`).join(' ')}/>`)),
    ],
    [
      'GraphML of 40,000 edges between two',
      () => readGraphml(graphml(`${nodes(2)}${'<edge source="n0" target="n1"/>'.repeat(of(40_000))}`)),
    ],
    ['GraphML of 20,000 nodes', () => readGraphml(graphml(nodes(of(20_000))))],
    ['GraphML of 20,000 nodes of one name', () => readGraphml(graphml('<node id="n"/>'.repeat(of(20_000))))],
    [
      'RFC 8345 of 8,000 links',
      () =>
        readRfc8345(
          JSON.stringify({
            'ietf-network:networks': {
              network: [
                {
                  'network-id': 'n',
                  node: many(of(1_000), (at) => ({ 'node-id': `n${at}` })),
                  'ietf-network-topology:link': many(of(8_000), (at) => ({
                    'link-id': `l${at}`,
                    source: { 'source-node': `n${at % of(1_000)}` },
                    destination: { 'dest-node': `n${(at * 7 + 1) % of(1_000)}` },
                  })),
                },
              ],
            },
          }),
        ),
    ],
    ['a CSV of 50,000 columns', () => readSheets({ 'a.csv': `Name,${'x,'.repeat(of(50_000))}` }, emptyTopology())],
    ['a CSV of quotes', () => readSheets({ 'a.csv': `Name\n${'"'.repeat(of(300_000))}` }, emptyTopology())],
    [
      'tables of 50,000 rows',
      () =>
        readTables({
          'topology.csv': 'key,value\n',
          'devices.csv': `id,name\n${many(of(50_000), (at) => `d${at},x`).join('\n')}`,
        }),
    ],
    [
      'JSON of 100,000 devices that are none',
      () =>
        readTopologyText(
          `{"format":"sobrin-topology","version":1,"sites":{},"links":{},"devices":{${many(of(100_000), (at) => `"k${at}":1`).join(',')}}}`,
        ),
    ],
  ])('%s', (_what, read) => {
    const done = read();
    if (done.ok) return;
    expect(done.error!.length).toBeLessThanOrEqual(1000);
    for (const { text } of done.error!) expect(text).toMatch(/[.:!?]$/);
  });

  test('20,000 links between 2,000 switches in a CSV: all that have a port are taken', () => {
    const links = many(of(20_000), (at) => `SW-${at % of(2_000)},SW-${(at * 7 + 1) % of(2_000)}`);
    const read = readSheets({ 'links.csv': `From,To\n${links.join('\n')}` }, emptyTopology());
    if (!read.ok) throw new Error(JSON.stringify(read.error));
    expect(Object.keys(read.value.topology.devices).length).toBe(of(2_000));
    expect(Object.keys(read.value.topology.links).length).toBeGreaterThan(of(15_000));
  });

  test('10,000 edges of 1,000 nodes with ports that are named', () => {
    const edges = many(
      of(10_000),
      (at) =>
        `<edge source="n${at % of(1_000)}" target="n${(at * 7 + 1) % of(1_000)}" sourceport="p${at % 20}" targetport="p${at % 20}"/>`,
    );
    const read = readGraphml(graphml(`${nodes(of(1_000))}${edges.join('')}`));
    if (!read.ok) throw new Error(JSON.stringify(read.error).slice(0, 500));
    expect(Object.keys(read.value.topology.links).length).toBeGreaterThan(of(7_000));
  });
});
