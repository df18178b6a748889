import fc from 'fast-check';
import { drawings } from '../tests/arbitrary';
import { demoLab } from '../tests/topologies';
import { runs } from '../tests/runs';
import { type Tables, readTables, writeTables } from '.';

const problemsOf = (tables: Tables) => {
  const read = readTables(tables);
  if (read.ok) throw new Error('No problems.');
  return read.error.map(({ place, text }) => `${place}: ${text}`);
};
const drawing = demoLab('three-stations').reference;

test('every drawing written as tables is read back to the letter', () => {
  fc.assert(
    fc.property(drawings, (topology) => {
      expect(readTables(writeTables(topology))).toEqual({ ok: true, value: topology });
    }),
    { numRuns: runs(40) },
  );
});

test('the demo’s labs are read back to the letter, with a row for each device, link and interface', () => {
  for (const slug of ['three-stations', 'valley-lan']) {
    const { reference } = demoLab(slug);
    expect(readTables(writeTables(reference))).toEqual({ ok: true, value: reference });
  }
  const tables = writeTables(drawing);
  const rows = (file: string) => tables[file]!.trim().split('\r\n');
  expect(rows('devices.csv')).toHaveLength(1 + 39);
  expect(rows('links.csv')).toHaveLength(1 + 38);
  expect(rows('interfaces.csv')).toHaveLength(1 + 40);
  expect(rows('links.csv')[0]).toMatch(/^id,a\.device,a\.port,b\.device,b\.port,medium/);
});

test('what a spreadsheet would take for a formula is written as text, and refused where it is none', () => {
  const evil = { ...drawing, sites: { s: { name: '=HYPERLINK("http://x")' } }, devices: {}, links: {} };
  const tables = writeTables(evil);
  expect(tables['sites.csv']).toContain(`'=HYPERLINK`);
  expect(readTables(tables)).toEqual({ ok: true, value: evil });
  expect(problemsOf({ ...tables, 'sites.csv': 'id,name\ns,=1+1\n' })).toEqual([
    'sites.csv, row 2, column "name": The cell begins with "=", as formulas do: put an apostrophe before it if it is meant as a text.',
  ]);
});

test('what is wrong is told with table, row and column', () => {
  const tables = writeTables(drawing);
  const change = (file: string, from: RegExp, to: string) => ({ ...tables, [file]: tables[file]!.replace(from, to) });
  expect(problemsOf(change('devices.csv', /,access-switch-12,/, ',toaster,'))[0]).toMatch(
    /^devices\.csv, row \d+ › model: .*unknown model "toaster"/,
  );
  expect(problemsOf(change('links.csv', /,straight/, ',string'))[0]).toMatch(
    /^links\.csv, row \d+ › medium: "string" does not fit/,
  );
  expect(problemsOf({ ...tables, 'cables.csv': 'id\n' })[0]).toMatch(/^cables\.csv: This table is not known here/);
  expect(problemsOf({ ...tables, 'sites.csv': 'id,name,colour\ns,S,red\n' })).toContain(
    'sites.csv, row 2, column "colour": The column "colour" is not known here.',
  );
  expect(problemsOf({ ...tables, 'sites.csv': 'id,name,order\ns,S,first\n' })).toContain(
    'sites.csv, row 2, column "order": "first" is no number.',
  );
  expect(problemsOf({ ...tables, 'sites.csv': 'id,name\ns,S\ns,T\n' })).toContain(
    'sites.csv, row 3: "s" is there twice.',
  );
});

test('a key that all objects inherit is a key like any other: refused, and nothing else is changed by it', () => {
  const tables = writeTables(drawing);
  const [head] = tables['interfaces.csv']!.split('\r\n');
  expect(problemsOf({ ...tables, 'interfaces.csv': `${head}\r\n__proto__,eth0\r\n` })).toEqual([
    'interfaces.csv, row 2, column "device": There is no device "__proto__" in devices.csv.',
  ]);
  expect('interfaces' in {}).toBe(false);
  const inherited = tables['document.csv']!.replace(/^format,/m, '__proto__,"{""devices"":{}}"\r\nformat,');
  expect(problemsOf({ ...tables, 'document.csv': inherited })[0]).toContain('"__proto__" is not known here');
});
