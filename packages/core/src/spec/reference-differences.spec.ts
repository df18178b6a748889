import { type NetworkModel, analyse } from '../engine';
import { filesIn, readJson } from '../tests/topologies';
import { type Topology } from '../topology';
import { type LabFile, type SubmissionFile, matchRoles, referenceDifferences } from '.';

const lab = (slug: string): LabFile => readJson('demo', slug, 'lab.json') as LabFile;
const three = lab('three-stations').reference;
const models = new Map<Topology, NetworkModel>();
const modelOf = (reference: Topology): NetworkModel => {
  const known = models.get(reference) ?? analyse(reference);
  models.set(reference, known);
  return known;
};
const differences = (drawing: Topology, reference = three) =>
  referenceDifferences(reference, drawing, matchRoles(modelOf(reference), analyse(drawing)).roles);

test.each(['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack'])(
  'the reference of %s does not differ from itself, whatever its things are called and wherever they stand',
  (slug) => {
    const { reference } = lab(slug);
    expect(differences(reference, reference)).toEqual([]);
    const other = structuredClone(reference);
    for (const [at, device] of Object.values(other.devices).entries()) {
      device.name = `Device ${at}`;
      device.at = { x: at * 10, y: 5 };
    }
    for (const site of Object.values(other.sites)) site.name = `At ${site.name}`;
    expect(differences(other, reference)).toEqual([]);
  },
);

test('what is missing, more and otherwise is told as its student calls it, from the reference to the drawing', () => {
  const drawing = structuredClone(three);
  drawing.devices.RTM!.name = 'Mitte';
  drawing.devices.RTM!.settings!.routes = [];
  const [fibre] = Object.keys(drawing.links).filter((id) => drawing.links[id]!.medium === 'sm-fibre');
  drawing.links[fibre!]!.medium = 'mm-fibre';
  delete drawing.devices['CAM-1'];
  for (const [id, { a, b }] of Object.entries(drawing.links))
    if ([a.device, b.device].includes('CAM-1')) delete drawing.links[id];
  drawing.devices.extra = { name: 'Guest', model: 'laptop', at: { x: 0, y: 0 } };
  const found = differences(drawing);
  expect(found).toEqual(
    expect.arrayContaining([
      { what: 'other', sort: 'device', name: 'Mitte', details: ['routes changed'], drawn: 'RTM', reference: 'RTM' },
      { what: 'more', sort: 'device', name: 'Guest', details: [], drawn: 'extra' },
      { what: 'missing', sort: 'device', name: 'CAM-1', details: [], reference: 'CAM-1' },
      expect.objectContaining({
        what: 'other',
        sort: 'link',
        drawn: fibre,
        details: ['medium: single-mode fibre → multi-mode fibre'],
      }),
    ]),
  );
  expect(found.map(({ what, sort }) => `${what} ${sort}`).sort()).toEqual([
    'missing device',
    'missing link',
    'more device',
    'other device',
    'other link',
  ]);
});

test('of two cables between the same devices each is compared with the one at its ports; turned round it is the same', () => {
  const reference = lab('valley-lan').reference;
  const drawing = structuredClone(reference);
  for (const link of Object.values(drawing.links)) [link.a, link.b] = [link.b, link.a];
  expect(differences(drawing, reference)).toEqual([]);
  const [id] = Object.keys(drawing.links);
  drawing.links.second = { ...drawing.links[id!]!, a: { ...drawing.links[id!]!.a, port: 'x9' } };
  expect(differences(drawing, reference)).toMatchObject([{ what: 'more', sort: 'link', drawn: 'second' }]);
});

test('of every answer in the demo all that differs is there, by ids of the drawing and of the reference', () => {
  for (const slug of ['valley-lan', 'three-stations', 'winch-isolation', 'summit-dual-stack']) {
    const { reference } = lab(slug);
    for (const name of filesIn('demo', slug, 'submissions')) {
      const { topology } = readJson('demo', slug, 'submissions', name) as SubmissionFile;
      if (!topology) continue;
      for (const { sort, drawn, reference: asked, what } of differences(topology, reference)) {
        const map = `${sort}s` as const;
        if (drawn !== undefined) expect([name, drawn in topology[map]]).toEqual([name, true]);
        if (asked !== undefined) expect([name, asked in reference[map]]).toEqual([name, true]);
        expect([what, drawn === undefined, asked === undefined]).toEqual([what, what === 'missing', what === 'more']);
      }
    }
  }
});

test('a tile of several and the single devices that play its members are no difference', () => {
  const reference = lab('valley-lan').reference;
  const drawing = structuredClone(reference);
  const [id, host] = Object.entries(drawing.devices).find(([, { model }]) => model === 'desktop')!;
  drawing.devices[id] = { ...host, members: { [id]: { name: host.name } } };
  expect(differences(drawing, reference)).toEqual([]);
});
