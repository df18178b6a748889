import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { sobrin } from './tests/sobrin';

type Named = { name: string };
const root = path.resolve(__dirname, '..', '..', '..');
const lab = JSON.parse(readFileSync(path.join(root, 'demo', 'three-stations', 'lab.json'), 'utf8')) as {
  reference: { devices: Record<string, Named>; links: Record<string, object>; sites: Record<string, Named> };
};
const { reference } = lab;
let folder: string;
const at = (name: string): string => path.join(folder, name);
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'sobrin-convert-'));
  writeFileSync(at('lab.json'), JSON.stringify(reference));
});
afterAll(() => rmSync(folder, { recursive: true }));

const convert = (from: string, to: string) => sobrin('convert', at(from), at(to));
/** What a program of somebody else prints; the test fails where it complains. */
function outputOf(program: string, ...args: string[]): string {
  const { status, stdout, stderr, error } = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 1e8 });
  if (error || status !== 0) throw new Error(`${program}: ${error?.message ?? stderr}`);
  return stdout;
}
const names = Object.values(reference.devices).map((device) => device.name);

test.each([['.yaml'], ['.rfc8345.json'], ['-tables']])(
  'there and back by %s the drawing is the same',
  async (ending) => {
    expect(await convert('lab.json', `there${ending}`)).toMatchObject({
      status: 0,
      out: `${at(`there${ending}`)}: 39 devices, 38 links.\n`,
      err: '',
    });
    expect(await convert(`there${ending}`, `back${ending}.json`)).toMatchObject({ status: 0, err: '' });
    expect(JSON.parse(readFileSync(at(`back${ending}.json`), 'utf8'))).toEqual(reference);
  },
);

test('of a lab its reference is taken', async () => {
  writeFileSync(at('whole-lab.json'), JSON.stringify(lab));
  expect(await convert('whole-lab.json', 'reference.json')).toMatchObject({ status: 0, err: '' });
  expect(JSON.parse(readFileSync(at('reference.json'), 'utf8'))).toEqual(reference);
});

test('a folder of tables has one for each sort of thing', async () => {
  await convert('lab.json', 'tables');
  expect(readdirSync(at('tables')).sort()).toEqual([
    'devices.csv',
    'document.csv',
    'interfaces.csv',
    'links.csv',
    'sites.csv',
  ]);
});

test('networkx, which others wrote, reads the same graph from GraphML', async () => {
  await convert('lab.json', 'lab.graphml');
  const python = `
import json, sys, networkx
g = networkx.read_graphml(sys.argv[1])
print(json.dumps({
    "names": sorted(d["name"] for _, d in g.nodes(data=True)),
    "sites": sorted({d["site"] for _, d in g.nodes(data=True)}),
    "addresses": sorted(d["addresses"] for _, d in g.nodes(data=True) if "addresses" in d),
    "links": sorted(" ".join(sorted([g.nodes[a]["name"], g.nodes[b]["name"]])) for a, b in g.edges()),
    "ports": all("a_port" in d and "b_port" in d for _, _, d in g.edges(data=True)),
}))`;
  const read = JSON.parse(outputOf('/usr/bin/python3', '-c', python, at('lab.graphml'))) as Record<string, string[]>;
  expect(read.names).toEqual([...names].sort());
  expect(read.sites).toEqual(['Middle Station', 'Summit Station', 'Valley Station']);
  expect(read.addresses).toHaveLength(33);
  expect(read.links).toHaveLength(38);
  expect(read.ports).toBe(true);
});

test('Graphviz lays the DOT file out with every device, site and port', async () => {
  await convert('lab.json', 'lab.dot');
  const graph = JSON.parse(outputOf('dot', '-Tjson0', at('lab.dot'))) as {
    objects: { name: string; label?: string }[];
    edges: { taillabel: string }[];
  };
  const labels = graph.objects.map((object) => (object.label ?? '').split('\\n')[0]);
  expect(labels).toEqual(expect.arrayContaining([...names, 'Valley Station']));
  expect(graph.edges).toHaveLength(38);
  expect(graph.edges.every((edge) => edge.taillabel)).toBe(true);
});

test('a picture shows what a host leased, and a file that is read again does not', async () => {
  const port = (key: string) => ({ kind: 'port', port: key });
  const leasing = {
    format: 'sobrin-topology',
    version: 3,
    sites: {},
    devices: {
      r: {
        name: 'RT-1',
        model: 'border-router',
        at: { x: 0, y: 0 },
        interfaces: { g0: { on: port('g0'), v4: { addresses: ['10.84.7.1/24'] } } },
        settings: { dhcpPools: [{ network: '10.84.7.0/24', ranges: [{ from: '10.84.7.77', to: '10.84.7.79' }] }] },
      },
      h: {
        name: 'PC-1',
        model: 'desktop',
        at: { x: 0, y: 200 },
        interfaces: { e0: { on: port('e0'), v4: { dhcp: true } } },
      },
    },
    links: { l: { a: { device: 'r', port: 'g0' }, b: { device: 'h', port: 'e0' }, medium: 'crossover' } },
  };
  writeFileSync(at('leasing.json'), JSON.stringify(leasing));
  expect(await convert('leasing.json', 'leasing.svg')).toMatchObject({ status: 0 });
  expect(readFileSync(at('leasing.svg'), 'utf8')).toMatch(/\.77<.*10\.84\.7\.0\/24 leased</s);
  expect(await convert('leasing.json', 'leasing.yaml')).toMatchObject({ status: 0 });
  expect(readFileSync(at('leasing.yaml'), 'utf8')).not.toContain('10.84.7.77/');
});

test('a page for browsers holds the picture with leases, and the tables', async () => {
  expect(await convert('leasing.json', 'leasing.html')).toMatchObject({ status: 0 });
  const page = readFileSync(at('leasing.html'), 'utf8');
  expect(page).toMatch(/<svg.*10\.84\.7\.0\/24 leased</s);
  expect(page).toContain('<h2>Devices</h2>');
});
test('librsvg paints the SVG picture, and it is not empty', async () => {
  await convert('lab.json', 'lab.svg');
  outputOf('rsvg-convert', '-w', '1200', at('lab.svg'), '-o', at('lab.png'));
  const png = readFileSync(at('lab.png'));
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  expect(png.readUInt32BE(16)).toBe(1200);
  expect(png.length).toBeGreaterThan(50_000);
});

test('qpdf finds the PDF sound; its words can be found, and its fonts are in it', async () => {
  expect(await convert('lab.json', 'lab.pdf')).toMatchObject({ status: 0 });
  expect(outputOf('qpdf', '--check', at('lab.pdf'))).toMatch(/No syntax or stream encoding errors found/);
  const words = outputOf('pdftotext', '-layout', '-l', '1', at('lab.pdf'), '-').split(/\s+/);
  for (const name of names) expect(words).toContain(name);
  expect(words).toEqual(expect.arrayContaining(['10.84.1.0/26', 'p1', 'u1', 'Valley']));
  const fonts = outputOf('pdffonts', at('lab.pdf')).trim().split('\n').slice(2);
  expect(fonts.length).toBeGreaterThan(0);
  for (const font of fonts) expect(font).toMatch(/\s(yes)\s+(yes)\s+(yes)\s/);
});

test('what cannot be read, or not wholly, is told, and the status says so', async () => {
  writeFileSync(
    at('other.graphml'),
    '<graphml><graph><node id="a"/><node id="b"/><edge source="a" target="c"/></graph></graphml>',
  );
  expect(await convert('other.graphml', 'other.json')).toMatchObject({
    status: 1,
    err: expect.stringContaining('The link from "a" to "c" was left out: there is no "c".') as string,
  });
  writeFileSync(at('broken.yaml'), 'format: sobrin-topology\nversion: 1\nsites: {}\ndevices: 7\nlinks: {}\n');
  expect(await convert('broken.yaml', 'x.json')).toMatchObject({
    status: 2,
    err: `${at('broken.yaml')}: line 4: 7 does not fit here: wanted is an object.\n`,
  });
  expect(await convert('lab.json', 'lab.doc')).toMatchObject({
    status: 2,
    err: expect.stringContaining('This ending is not known') as string,
  });
  expect(await convert('lab.svg', 'x.json')).toMatchObject({
    status: 2,
    err: expect.stringContaining('hold no drawing') as string,
  });
  expect(await convert('missing.json', 'x.json')).toMatchObject({
    status: 2,
    err: expect.stringContaining('no such file') as string,
  });
});

test('a paper that lacks letters is written, and told', async () => {
  writeFileSync(at('letters.json'), JSON.stringify({ ...reference, title: '学生' }));
  const done = await convert('letters.json', 'letters.pdf');
  expect(done.status).toBe(1);
  expect(done.err).toContain('letters.pdf: Papers have no letters for 学 生');
  expect(readFileSync(at('letters.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
});
