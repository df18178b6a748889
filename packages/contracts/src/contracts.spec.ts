import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { AddToRosterRequest, ChangeLabRequest, SaveRequest, pathOf, routeOf } from '.';

const errors = <T extends object>(type: new () => T, value: object): string[] => {
  const flat = (list: ReturnType<typeof validateSync>): string[] =>
    list.flatMap((error) => [
      ...Object.keys(error.constraints ?? {}).map((name) => `${error.property}: ${name}`),
      ...flat(error.children ?? []),
    ]);
  return flat(validateSync(plainToInstance(type, value), { whitelist: true, forbidNonWhitelisted: true }));
};

const SAVE = '7f4df6cf-2b52-4a39-9c0e-0a5fd2a4f1b7';

test('a save needs a revision and at least one command', () => {
  expect(errors(SaveRequest, { save: SAVE, base: 0, commands: [{ kind: 'move' }] })).toEqual([]);
  expect(errors(SaveRequest, { save: 'mine', base: -1, commands: [] })).toEqual(
    expect.arrayContaining(['save: isUuid', 'base: min', 'commands: arrayMinSize']),
  );
  expect(errors(SaveRequest, { save: SAVE, base: 0, commands: [{}], sneaky: 1 })).toEqual([
    'sneaky: whitelistValidation',
  ]);
});

test('every entry of a roster is checked', () => {
  expect(errors(AddToRosterRequest, { students: [{ name: 'Ilse', login: 'ilse' }] })).toEqual([]);
  expect(errors(AddToRosterRequest, { students: [{ name: '', login: 'Ilse H' }] })).toEqual([
    'name: matches',
    'name: isLength',
    'login: matches',
  ]);
});

test('a due date may be taken away with null, but not be nonsense', () => {
  expect(errors(ChangeLabRequest, { base: 1, dueAt: null })).toEqual([]);
  expect(errors(ChangeLabRequest, { base: 1, dueAt: 'soon' })).toEqual(['dueAt: matches', 'dueAt: isIso8601']);
  expect(errors(ChangeLabRequest, { base: 1, dueAt: '2026-12-01T18:00' })).toEqual(['dueAt: matches']);
  expect(errors(ChangeLabRequest, { base: 1, dueAt: '2026-12-01T18:00+01:00' })).toEqual([]);
});

test('a request finds its route, whatever stands in its path; words go before placeholders', () => {
  expect([
    routeOf('GET', 'labs/7f'),
    routeOf('POST', 'courses/1/labs/import'),
    routeOf('GET', 'documents/1/picture.png?revision=3'),
    routeOf('GET', 'auth/demo'),
    routeOf('PUT', 'labs/7f'),
    routeOf('GET', 'labs/'),
    routeOf('GET', 'labs/7f/nothing'),
  ]).toEqual([
    'GET labs/:id',
    'POST courses/:id/labs/import',
    'GET documents/:id/picture.:format',
    'GET auth/demo',
    null,
    null,
    null,
  ]);
  expect(pathOf('DELETE courses/:id/roster/:student', { id: 'a b', student: '1' })).toEqual({
    method: 'DELETE',
    path: 'courses/a%20b/roster/1',
  });
});
