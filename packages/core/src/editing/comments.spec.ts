import { sceneOf } from '../drawing';
import { Sheet } from '../tests/topologies';
import { type Command, type Topology, applyBatch, readTopology } from '../topology';
import { answerComment, beginComment, commentSubject, removeChosen, resolveComment } from '.';

const speaker = (by: string) => ({ by, at: '2026-11-26T10:00:00.000Z' });
function after(topology: Topology, ...commands: (Command | null)[]): Topology {
  const done = applyBatch(
    topology,
    'test',
    commands.flatMap((command) => command ?? []),
  );
  if (!done.ok) throw new Error(done.error);
  const sound = readTopology(done.value.document);
  if (!sound.ok) throw new Error(sound.error[0]!.text);
  return sound.value;
}
const drawn = (): Topology =>
  new Sheet()
    .device('R', 'border-router', {}, { at: { x: 100, y: 100 } })
    .device('S', 'access-switch-12', {}, { at: { x: 100, y: 300 } })
    .cable('R g0', 'S u1').topology;
const about = (anchor: { kind: 'device' | 'link'; id: string; port?: string } | { x: number; y: number }) =>
  after(drawn(), beginComment('c', anchor, 'Why here?', speaker('Zofia')));

test('a talk is begun, answered, settled and opened again; an answer opens it too', () => {
  const begun = about({ kind: 'device', id: 'R' });
  const answered = after(begun, answerComment(begun, 'c', 'For the fibre.', speaker('Maren')));
  expect(answered.comments!.c!.entries.map((entry) => [entry.by, entry.text])).toEqual([
    ['Zofia', 'Why here?'],
    ['Maren', 'For the fibre.'],
  ]);
  const settled = after(answered, resolveComment(answered, 'c', true));
  expect(settled.comments!.c!.resolved).toBe(true);
  expect(after(settled, resolveComment(settled, 'c', false))).toEqual(answered);
  expect(after(settled, answerComment(settled, 'c', 'Still?', speaker('Zofia'))).comments!.c!.resolved).toBeUndefined();
  expect([answerComment(begun, 'gone', '', speaker('X')), resolveComment(begun, 'gone', true)]).toEqual([null, null]);
});

test('pins stand on what they are about: a device, a port, the middle of a link, a place', () => {
  const pin = (topology: Topology) => sceneOf(topology).comments[0]!;
  const line = sceneOf(drawn()).lines.get('R-g0-S-u1')!;
  expect(pin(about({ kind: 'device', id: 'R' }))).toMatchObject({ x: 114, y: 100, entries: 1, text: 'Why here?' });
  expect(pin(about({ kind: 'device', id: 'R', port: 'g0' }))).toMatchObject({ x: line.a.x, y: line.a.y });
  expect(pin(about({ kind: 'device', id: 'R', port: 'g3' }))).toMatchObject({ x: 114, y: 100 });
  const middle = pin(about({ kind: 'link', id: 'R-g0-S-u1' }));
  expect(middle.y).toBeGreaterThan(150);
  expect(middle.y).toBeLessThan(300);
  expect(pin(about({ x: 7, y: 9 }))).toMatchObject({ x: 7, y: 9 });
});

test('two talks about one thing stand side by side', () => {
  const thread = about({ kind: 'device', id: 'R' });
  const two = after(thread, beginComment('d', { kind: 'device', id: 'R' }, 'And this?', speaker('Zofia')));
  const [first, second] = sceneOf(two).comments;
  expect(second!.x - first!.x).toBeGreaterThanOrEqual(20);
});

test('what it is about is said in words', () => {
  const words = (topology: Topology) => commentSubject(topology, topology.comments!.c!);
  expect(words(about({ kind: 'device', id: 'R' }))).toBe('R');
  expect(words(about({ kind: 'device', id: 'R', port: 'g0' }))).toBe('R g0');
  expect(words(about({ kind: 'link', id: 'R-g0-S-u1' }))).toBe('R – S');
  expect(words(about({ x: 1, y: 1 }))).toBe('A place of the drawing');
});

test('a talk stays at its place when what it is about is removed', () => {
  const begun = about({ kind: 'device', id: 'R' });
  const gone = after(begun, ...removeChosen(begun, { devices: ['R'], links: [], sites: [] }));
  expect(gone.comments!.c).toMatchObject({ at: { x: 100, y: 100 }, entries: [{ text: 'Why here?' }] });
  expect(gone.comments!.c!.anchor).toBeUndefined();
});

describe('pictures', () => {
  const data = 'data:image/png;base64,iVBORw0KGgo=';
  const picture = { name: 'Sketch', data, at: { x: -50, y: 0 }, width: 900, height: 400 };
  const shown = (): Topology =>
    after(drawn(), { kind: 'setPicture', id: 'p', set: { ...picture, beneath: true, dim: 0.5 } });
  test('are part of what is drawn, and can be moved and removed', () => {
    const scene = sceneOf(shown(), { pictures: new Map([['p', { x: 10, y: 20 }]]) });
    expect(scene.pictures).toEqual([
      { id: 'p', name: 'Sketch', x: 10, y: 20, width: 900, height: 400, beneath: true, dim: 0.5 },
    ]);
    const chosen = { devices: [], links: [], sites: [], pictures: ['p'] };
    expect(after(shown(), ...removeChosen(shown(), chosen)).pictures).toBeUndefined();
  });
  test('are data of a picture and nothing else', () => {
    for (const bad of ['https://example.com/a.png', 'data:text/html;base64,PGI+', 'data:image/png;base64,<svg>'])
      expect(readTopology({ ...drawn(), pictures: { p: { ...picture, data: bad } } }).ok).toBe(false);
    expect(readTopology({ ...drawn(), pictures: { p: { ...picture, dim: 2 } } }).ok).toBe(false);
  });
});
