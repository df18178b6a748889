import { writeYaml } from '@sobrin/core/formats';
import { emptyTopology } from '@sobrin/core/topology';
import { readFiles } from './drawing-files';

const file = (name: string, text: string) =>
  Object.assign(new File([text], name), { text: () => Promise.resolve(text) });

test('a file is read by its ending, and a network topology by what stands in it', async () => {
  const topology = { ...emptyTopology(), title: 'Evening' };
  const readFile = async (file: File) => {
    const read = await readFiles([file], emptyTopology());
    return read.ok ? { ok: true, value: read.value.read } : read;
  };
  expect(await readFile(file('a.yml', writeYaml(topology)))).toEqual({ ok: true, value: { topology, left: [] } });
  expect(await readFile(file('a.json', JSON.stringify(topology)))).toEqual({ ok: true, value: { topology, left: [] } });
  const network = { 'ietf-network:networks': { network: [{ 'network-id': 'n', node: [{ 'node-id': 'PC one' }] }] } };
  expect(await readFile(file('a.json', JSON.stringify(network)))).toMatchObject({
    ok: true,
    value: { topology: { devices: { 'PC-one': { model: 'desktop' } } } },
  });
});

test('a file that holds no drawing is told with name and place, and that the drawing is as it was', async () => {
  const refusalOf = async (name: string, text: string) => {
    const read = await readFiles([file(name, text)], emptyTopology());
    return read.ok ? null : read.error;
  };
  expect(await refusalOf('a.yaml', 'format: 7')).toMatch(/^a\.yaml was not taken, the drawing is as it was\. line 1: /);
  expect(await refusalOf('a.png', '')).toMatch(/wanted is one that ends in \.rfc8345\.json, \.json, \.yaml, \.graphml/);
  const large = Object.assign(file('a.json', ''), {});
  Object.defineProperty(large, 'size', { value: 20_000_000 });
  const read = await readFiles([large], emptyTopology());
  expect(read.ok ? null : read.error).toBe('a.json has 20.0 MB: at most 10 MB are taken. The drawing is as it was.');
});

test('two tables chosen together tell devices and the links between them', async () => {
  const devices = file('kit.csv', 'Name;Type\nDESK-1;desktop\nSW-1;switch\n');
  const links = file('cables.csv', 'From,To\nDESK-1,SW-1\n');
  const read = await readFiles([devices, links], emptyTopology());
  expect(read).toMatchObject({ ok: true, value: { file: 'kit.csv, cables.csv', read: { left: [] } } });
  expect(read.ok && Object.values(read.value.read.topology.links)).toMatchObject([
    {
      // Ids end random, so that what two people read at once does not meet.
      a: { device: expect.stringMatching(/^DESK-1-[a-z0-9]{5}$/) as string },
      b: { device: expect.stringMatching(/^SW-1-[a-z0-9]{5}$/) as string },
      medium: 'straight',
    },
  ]);
  const mixed = await readFiles([devices, file('a.yaml', '')], emptyTopology());
  expect(mixed.ok ? null : mixed.error).toMatch(/Choose either tables or one other file/);
});
