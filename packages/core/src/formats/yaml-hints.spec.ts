import { emptyTopology } from '../topology';
import { yamlHints } from '.';

const topology = {
  ...emptyTopology(),
  sites: { v: { name: 'Valley Station' } },
  devices: { a: { name: 'DESK-1', model: 'desktop', at: { x: 0, y: 0 } } },
};
/** Hints where the bar stands in a text. */
const at = (text: string) => {
  const offset = text.indexOf('|');
  const hints = yamlHints(text.replace('|', ''), offset, topology);
  return (
    hints && {
      typed: text.slice(hints.from, offset),
      labels: hints.options.map((option) => option.label),
      options: hints.options,
    }
  );
};

test('keys of the thing one is in, without those that stand there', () => {
  expect(at('de|')!.labels).toEqual(expect.arrayContaining(['devices', 'links', 'title']));
  const device = at('devices:\n  a:\n    name: DESK-1\n    m|\n    at: { x: 0, y: 0 }\n')!;
  expect(device.typed).toBe('m');
  expect(device.labels).toEqual(expect.arrayContaining(['model', 'members', 'modules', 'site']));
  expect(device.labels).not.toContain('name');
  expect(device.labels).not.toContain('at');
  expect(device.options.find((option) => option.label === 'model')).toEqual({
    label: 'model',
    detail: 'a text, needed',
    insert: 'model: ',
  });
  expect(at('devices:\n  a:\n    interfaces:\n      e0:\n        |')!.labels).toEqual(
    expect.arrayContaining(['on', 'v4', 'v6']),
  );
});

test('values by the schema, and by what is in the drawing', () => {
  expect(at('links:\n  l:\n    medium: cr|')).toMatchObject({
    typed: 'cr',
    labels: expect.arrayContaining(['crossover', 'sm-fibre']) as string[],
  });
  expect(at('devices:\n  a:\n    powered: |')!.labels).toEqual(['true', 'false']);
  expect(at('devices:\n  a:\n    model: |')!.options).toContainEqual({
    label: 'laptop',
    detail: 'Laptop',
    insert: 'laptop',
  });
  expect(at('devices:\n  a:\n    site: |')!.options).toEqual([{ label: 'v', detail: 'Valley Station', insert: 'v' }]);
});

test('none in comments, in texts, and where ids are made up', () => {
  expect(at('# de|')).toBeNull();
  expect(at('title: my |')).toBeNull();
  expect(at('devices:\n  ne|')).toBeNull();
});
