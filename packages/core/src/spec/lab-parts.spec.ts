import { type Edit } from '../changes';
import { type LabParts, applyPartCommands, placeInPart, readPart } from './lab-parts';

const tasks = (...ids: string[]): LabParts['tasks'] => ({ tasks: ids.map((id) => ({ id, text: `Do ${id}.` })) });
const edited = (...edits: Edit[]) => applyPartCommands(tasks('a', 'b', 'c'), 'Edit', [{ kind: 'edits', edits }]);

test('an entry is added where it is put, changed and removed; undo brings each back to where it stood', () => {
  for (const edits of [
    [{ path: ['tasks', 'x'], value: { id: 'x', text: 'Do x.' }, at: 1 }],
    [{ path: ['tasks', 'b', 'text'], value: 'Do b well.' }],
    [{ path: ['tasks', 'a'] }],
    [{ path: ['tasks', 'c'] }, { path: ['tasks', 'b'] }],
    [{ path: ['tasks'], value: [] }],
  ] satisfies Edit[][]) {
    const done = edited(...edits);
    if (!done.ok) throw new Error(done.error);
    expect(done.value.document).not.toEqual(tasks('a', 'b', 'c'));
    const undone = applyPartCommands(done.value.document, 'Undo', [done.value.inverse]);
    expect(undone).toMatchObject({ ok: true, value: { document: tasks('a', 'b', 'c') } });
  }
});

test.each<[string, Edit]>([
  ['an entry under the id of another', { path: ['tasks', 'a'], value: { id: 'b', text: 'x' } }],
  ['a new entry under another id than its own', { path: ['tasks', 'n'], value: { id: 'm', text: 'x' } }],
  ['the id of an entry', { path: ['tasks', 'a', 'id'], value: 'b' }],
  ['no id', { path: ['tasks', 'a', 'id'] }],
])('an entry keeps its id: %s is refused', (_what, edit) =>
  expect(edited(edit)).toEqual({ ok: false, error: expect.stringMatching(/an entry keeps its own\.$/) as string }),
);

test('what lies inside an entry that is gone is not changed any more', () =>
  expect(edited({ path: ['tasks', 'gone', 'text'], value: 'x' })).toEqual({
    ok: false,
    error: '“gone” is not there any more.',
  }));

test('ids that are there twice are told with their place', () =>
  expect(readPart('tasks', tasks('a', 'a'))).toEqual({
    ok: false,
    error: [{ place: 'tasks › 1 › id', text: 'The id "a" is there twice.' }],
  }));

test('a place is told by the titles and names that stand there', () =>
  expect(placeInPart(['groups', 'g', 'now'], { groups: [{ id: 'g', name: 'Tickets', now: 3 }] })).toBe(
    'groups › Tickets › now',
  ));
