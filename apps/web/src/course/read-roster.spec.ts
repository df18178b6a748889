import { loginOf, readRoster } from './read-roster';

test.each([
  ['Zofia Wrona', 'zofia.wrona'],
  ['Anselm Brückner', 'anselm.bruckner'],
  ['Nils Ådahl', 'nils.adahl'],
  ['Pilar  Echeverría-Ruiz', 'pilar.echeverria-ruiz'],
  ['Søren Łukasz', 'soren.lukasz'],
])('%s signs in as %s', (name, login) => expect(loginOf(name)).toBe(login));

test('lines are names, or name and sign-in name, also as two columns of a table', () => {
  expect(readRoster('Zofia Wrona\n\nTobias Ferreira, tobias.f\r\nIlse Haverkamp\tilse')).toEqual({
    students: [
      { name: 'Zofia Wrona', login: 'zofia.wrona' },
      { name: 'Tobias Ferreira', login: 'tobias.f' },
      { name: 'Ilse Haverkamp', login: 'ilse' },
    ],
    problems: [],
  });
});

test.each<[string, string, string, string]>([
  ['Kern, Lukas', 'Kern, Lukas', 'lukas.kern', ''],
  ['Kern, Lukas; lukas.k', 'Kern, Lukas', 'lukas.k', ''],
  ['Kern, Lukas, lukas.k, Group B', 'Kern, Lukas', 'lukas.k', 'Group B'],
  ['Kern, Lukas, Group B', 'Kern, Lukas', 'lukas.kern', 'Group B'],
  ['"Kern, Lukas", lk7', 'Kern, Lukas', 'lk7', ''],
  ['Kern, Lukas\tlk7\tGroup B', 'Kern, Lukas', 'lk7', 'Group B'],
  ['Tobias Ferreira, TOBIAS.F', 'Tobias Ferreira', 'tobias.f', ''],
  ['Zofia Wrona, , Group A', 'Zofia Wrona', 'zofia.wrona', 'Group A'],
])('%s is %s, who signs in as %s', (line, name, login, group) =>
  expect(readRoster(line)).toEqual({ students: [{ name, login, ...(group && { group }) }], problems: [] }),
);

test('what cannot be taken is told with its line', () => {
  const { students, problems } = readRoster('Zofia Wrona\nzofia wrona\n, x\n张伟');
  expect(students).toHaveLength(1);
  expect(problems).toEqual([
    expect.stringMatching(/^Line 2: .*zofia\.wrona is there twice/),
    expect.stringMatching(/^Line 3: the name is missing/),
    expect.stringMatching(/^Line 4: .*makes no sign-in name/),
  ]);
});
