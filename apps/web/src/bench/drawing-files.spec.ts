import { emptyTopology, writeYaml } from '@sobrin/core';
import { readFile } from './drawing-files';

const file = (name: string, text: string) =>
  Object.assign(new File([text], name), { text: () => Promise.resolve(text) });

test('a file is read by its ending, and a network topology by what stands in it', async () => {
  const topology = { ...emptyTopology(), title: 'Evening' };
  expect(await readFile(file('a.yml', writeYaml(topology)))).toEqual({ ok: true, value: { topology, left: [] } });
  expect(await readFile(file('a.json', JSON.stringify(topology)))).toEqual({ ok: true, value: { topology, left: [] } });
  const network = { 'ietf-network:networks': { network: [{ 'network-id': 'n', node: [{ 'node-id': 'PC one' }] }] } };
  expect(await readFile(file('a.json', JSON.stringify(network)))).toMatchObject({
    ok: true,
    value: { topology: { devices: { 'PC-one': { model: 'desktop' } } } },
  });
});

test('a file that holds no drawing is told with name and place, and that the drawing is as it was', async () => {
  const told = async (name: string, text: string) => {
    const read = await readFile(file(name, text));
    return read.ok ? null : read.error;
  };
  expect(await told('a.yaml', 'format: 7')).toMatch(/^a\.yaml was not taken, the drawing is as it was\. line 1: /);
  expect(await told('a.png', '')).toMatch(/wanted is one that ends in \.rfc8345\.json, \.json, \.yaml, \.graphml/);
  const large = Object.assign(file('a.json', ''), {});
  Object.defineProperty(large, 'size', { value: 20_000_000 });
  const read = await readFile(large);
  expect(read.ok ? null : read.error).toBe('a.json has 20.0 MB: at most 10 MB are taken. The drawing is as it was.');
});
