import { type Plan, applyPlanCommands } from '../plan';
import { plan, smallPlan } from '../tests/plans';
import { canonicalJson } from '../topology';
import { type TableReading, planCsv, readPlanTable, readPlanText, readTable, recogniseColumns } from '.';

const empty: Plan = { blocks: {} };
let nth = 0;
const newId = (): string => `id${++nth}`;

function read(text: string, document: Plan = smallPlan(), rangesAre: 'addresses' | 'pool' = 'addresses'): TableReading {
  const rows = readTable(text);
  const work = readPlanTable(document, { rows, ...recogniseColumns(rows), rangesAre }, newId);
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}
const taken = (reading: TableReading, document: Plan): Plan => {
  const done = applyPlanCommands(document, 'table', reading.commands);
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
};

describe('the columns of a pasted table', () => {
  test.each<[string, string, (string | null)[], boolean]>([
    ['with headings in any order', 'Device,Comment,IP address\nTILL-1,left,10.84.1.9', ['name', 'note', 'entry'], true],
    ['from a sheet, with tabs', 'Subnet\tVLAN ID\tLocation\n10.84.2.0/24\t20\tValley', ['entry', 'vlan', 'site'], true],
    ['with semicolons', 'address;hostname\n10.84.1.9;TILL-1', ['entry', 'name'], true],
    [
      'without headings, by what is in them',
      'TILL-1\t10.84.1.9\t20\nTILL-2\t10.84.1.10\t20',
      ['name', 'entry', 'vlan'],
      false,
    ],
    ['a single column of addresses', '10.84.1.9\n10.84.1.10', ['entry'], false],
    ['with columns nobody knows', 'Asset,Address\n7,10.84.1.9', [null, 'entry'], true],
  ])('%s', (_what, text, columns, heading) => {
    expect(recogniseColumns(readTable(text))).toEqual({ columns, heading });
  });
});

describe('each line of a table is added, changed or refused with the reason', () => {
  test('addresses', () => {
    const text = [
      'address,name,note',
      '10.84.1.9,TILL-1,left of the door',
      '10.84.1.2,DESK-1,',
      '10.84.1.3,OTHER,',
      '10.84.1.9,TWICE,',
      '10.84.1. 7,SPACE,',
      '10.84.1.300,HIGH,',
      ',NOBODY,',
      'fd5e:7a3c:90b1:1:0::7,SIX,',
      '10.84.1.12/26,MASKED,',
      '10.84.1.13/25,WRONG,',
    ].join('\n');
    const reading = read(text);
    expect(reading.lines.map((line) => [line.line, line.outcome, line.words])).toEqual([
      [2, 'added', ''],
      [3, 'same', 'It is in the plan already.'],
      [4, 'changed', 'It was DESK-2’s.'],
      [5, 'refused', '10.84.1.9 stands in the table twice.'],
      [6, 'refused', expect.stringMatching(/There is a space/)],
      [7, 'refused', expect.stringMatching(/300 .* is more than 255/)],
      [8, 'refused', 'The line has no address.'],
      [9, 'added', ''],
      [10, 'added', ''],
      [11, 'refused', 'The plan’s subnet there is 10.84.1.0/26, not a /25.'],
    ]);
    expect(reading.counts).toEqual({ added: 3, changed: 1, same: 1, refused: 5 });
    expect(taken(reading, smallPlan()).addresses).toMatchObject({
      '10.84.1.9': { name: 'TILL-1', note: 'left of the door' },
      '10.84.1.3': { name: 'OTHER' },
      'fd5e:7a3c:90b1:1::7': { name: 'SIX' },
      '10.84.1.12': { name: 'MASKED' },
    });
  });
  test('ranges become single addresses, numbered, or are set aside, as chosen', () => {
    const single = taken(read('10.84.1.21-23\ttill'), smallPlan());
    expect(single.addresses).toMatchObject({ '10.84.1.21': { name: 'till-1' }, '10.84.1.23': { name: 'till-3' } });
    const aside = taken(read('10.84.1.21 - 10.84.1.23\ttills', smallPlan(), 'pool'), smallPlan());
    expect(Object.values(aside.ranges!)).toContainEqual({
      from: '10.84.1.21',
      to: '10.84.1.23',
      use: 'pool',
      name: 'tills',
    });
    expect(read('10.84.1.2-9\tx').lines[0]).toMatchObject({
      outcome: 'refused',
      words: '10.84.1.2 is taken by DESK-1.',
    });
    expect(read('10.84.0.0-10.84.255.255\tx').lines[0]!.words).toMatch(/65536 addresses is not listed one by one/);
  });
  test('blocks', () => {
    const reading = read(
      'prefix,name,vlan,site,ipv6 prefix\n10.84.2.0/25,Shop,20,Valley,fd5e:7a3c:90b1:2::/64\n10.84.1.0/26,Tickets,11,Valley,\n10.84.2.7/25,X,,,\n10.84.3.0/25,Y,5000,,\n10.84.3.0/25,Z,7,,fd5e::1/64',
    );
    expect(reading.lines.map((line) => [line.outcome, line.words])).toEqual([
      ['added', ''],
      ['changed', 'vlan changes.'],
      ['added', ''],
      ['refused', 'VLAN "5000" is none: VLANs have the numbers 1 to 4094.'],
      ['refused', expect.stringMatching(/is an address inside a block/)],
    ]);
    expect(Object.values(taken(reading, smallPlan()).blocks)).toContainEqual({
      prefix: '10.84.2.0/25',
      prefix6: 'fd5e:7a3c:90b1:2::/64',
      name: 'Shop',
      vlan: 20,
      site: 'Valley',
      standing: 'proposed',
    });
  });
  test('a table whose address column is not known says so', () => {
    const rows = readTable('a,b\nc,d');
    const work = readPlanTable(empty, { rows, columns: [null, null], heading: false, rangesAre: 'addresses' }, newId);
    expect(work.next().value).toMatchObject({ counts: { refused: 2 } });
  });
  test('10,000 lines go in pieces and come out complete', () => {
    const text = Array.from({ length: 10_000 }, (_, at) => `10.85.${at >> 8}.${at & 255},h${at}`).join('\n');
    const rows = readTable(text);
    const work = readPlanTable(empty, { rows, ...recogniseColumns(rows), rangesAre: 'addresses' }, newId);
    const seen: number[] = [];
    let step = work.next();
    for (; !step.done; step = work.next()) seen.push(step.value);
    expect(seen).toEqual(Array.from({ length: 40 }, (_, at) => 250 * (at + 1)));
    expect(step.value.counts.added).toBe(10_000);
    expect(step.value.commands).toHaveLength(1);
  });
});

describe('a plan as a table', () => {
  test('comes back as it went out, but for the ids of what is new', () => {
    const document = plan((plan) => {
      plan.blocks.link = {
        prefix: '10.84.15.0/30',
        name: '=SUM(A1) "quoted", comma',
        use: 'link',
        standing: 'decided',
        purpose: 'a\nline',
      };
      plan.addresses!['fd5e:7a3c:90b1:1::5'] = { name: 'SIX', dns: 'six.kestrel.example', role: 'till', note: 'six' };
    });
    for (const block of Object.values(document.blocks)) block.standing ??= 'proposed';
    const back = taken(read(planCsv(document), empty), empty);
    const values = (map: object | undefined): unknown[] =>
      Object.values(map ?? {})
        .map((item) => canonicalJson(item))
        .sort();
    expect(values(back.blocks)).toEqual(values(document.blocks));
    expect(values(back.ranges)).toEqual(values(document.ranges));
    expect(back.addresses).toEqual(document.addresses);
    expect(read(planCsv(document), document).counts).toMatchObject({ added: 0, changed: 0, refused: 0 });
  });
  test('and as a file', () => {
    const file = { format: 'sobrin-plan', version: 1, plan: smallPlan() };
    expect(readPlanText(JSON.stringify(file))).toEqual({ ok: true, value: smallPlan() });
    expect(readPlanText(JSON.stringify({ ...file, format: 'other' }))).toMatchObject({
      ok: false,
      error: [{ place: 'format' }],
    });
    expect(readPlanText(JSON.stringify({ ...file, plan: { blocks: { a: { name: 'x' } } } }))).toMatchObject({
      ok: false,
      error: [{ place: 'plan › blocks › a › prefix' }],
    });
    const submission = { format: 'sobrin-submission', version: 2, plan: smallPlan() };
    expect(readPlanText(JSON.stringify(submission))).toEqual({ ok: true, value: smallPlan() });
  });
});
