import { type CheckResult } from '@sobrin/core/spec';
import { emptyTopology } from '@sobrin/core/topology';
import { devicesOf, firstOpen, marksOf, matchedWords, roleLines, sortedItems } from './findings';

const item = (met: boolean | null, ...devices: string[]) => ({
  text: `${met}`,
  met,
  places: devices.map((device) => ({ device })),
});

test('where several items point at a device, the worst shows', () => {
  const { devices, links } = marksOf([
    item(true, 'a', 'b'),
    item(false, 'a'),
    item(null, 'c'),
    { text: '', met: false, places: [{ link: 'l' }] },
  ]);
  expect([...devices]).toEqual([
    ['a', 'lost'],
    ['b', 'met'],
    ['c', 'unsure'],
  ]);
  expect([...links]).toEqual([['l', 'lost']]);
});
test('what went wrong comes first', () =>
  expect(sortedItems([item(true), item(null), item(false)]).map((item) => item.met)).toEqual([false, null, true]));

const result = {
  matching: [
    { role: 'R', device: 'n1', sure: 'sure' },
    { role: 'S/2', device: 'n2/1', sure: 'unsure' },
    { role: 'T', device: null },
  ],
  requirements: [
    { id: '1', verdict: 'met' },
    { id: '2', verdict: 'partly' },
  ],
} as unknown as CheckResult;
const named = (names: Record<string, string>) => ({
  ...emptyTopology(),
  devices: Object.fromEntries(
    Object.entries(names).map(([id, name]) => [id, { name, model: 'hub', at: { x: 0, y: 0 } }]),
  ),
});

test('roles are written where the student calls a device otherwise', () => {
  expect([...roleLines(result, named({ R: 'RT-M', S: 'SW' }), named({ n1: 'R-Mid', n2: 'SW' }))]).toEqual([
    ['n1', 'is RT-M'],
  ]);
  expect(matchedWords(result)).toBe('2 of 3 roles found, 1 not sure');
});
test('the first requirement that lost something is opened', () => expect(firstOpen(result)).toBe('2'));

test('what items point at are devices: themselves, and those at the ends of a link, each once', () => {
  const places = (...found: object[]) => ({ text: '', met: false, places: found });
  const links = { l: { a: { device: 'a', port: 'e0' }, b: { device: 'b', port: 'p1' }, medium: 'straight' as const } };
  const items = [places({ link: 'l' }, { device: 'c' }), places({ device: 'a' }, { link: 'gone' })];
  expect(devicesOf(items, { links })).toEqual(['a', 'b', 'c']);
});
