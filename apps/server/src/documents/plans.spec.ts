import { type Conflict, type DocumentView, type Saved, type SubmissionView } from '@sobrin/contracts';
import { formatAddress } from '@sobrin/core/address';
import { type Plan, nextFreeIn, planTree } from '@sobrin/core/plan';
import { randomUUID } from 'node:crypto';
import { type Person } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();
const save = (who: Person, id: string, base: number, ...commands: object[]) =>
  who.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands });
const take = (address: string, name: string): object => ({ kind: 'takeAddresses', addresses: { [address]: { name } } });

describe('two people in the same plan', () => {
  test('20 clients that take the next free address at the same time end without a doubled address, and each has its own', async () => {
    const { planId, brief } = await demo.labOf('Season Opening');
    const before = await demo.plan(demo.maren, planId);
    const group = 'tickets';
    const next = ({ document }: DocumentView<Plan>): string => {
      const tree = planTree(document);
      const node = [...tree.nodes.values()].find((node) => node.block.group === group)!;
      return formatAddress(nextFreeIn(tree, node, 4, brief)!);
    };
    let clashes = 0;
    const client = async (n: number): Promise<string> => {
      for (;;) {
        const seen = await demo.plan(demo.maren, planId);
        const address = next(seen);
        const answer = await save(demo.maren, planId, seen.revision, take(address, `client-${n}`));
        if (answer.status === 200) return address;
        expect([409, 422]).toContain(answer.status);
        clashes++;
      }
    };
    const taken = await Promise.all(Array.from({ length: 20 }, (_, n) => client(n)));
    expect(new Set(taken).size).toBe(20);
    const after = await demo.plan(demo.maren, planId);
    for (const [n, address] of taken.entries())
      expect(after.document.addresses![address]).toEqual({ name: `client-${n}` });
    expect(Object.keys(after.document.addresses!).length).toBe(Object.keys(before.document.addresses!).length + 20);
    expect(clashes).toBeGreaterThan(0); // else they did not meet, and nothing was shown
  });

  test('takers of the same address or the same space are both shown; the others are joined', async () => {
    const { planId } = await demo.labOf('Three Stations');
    const { revision } = await demo.plan(demo.maren, planId);
    await save(demo.maren, planId, revision, take('10.84.4.9', 'FIRST')).expect(200);
    const clash = (await save(demo.maren, planId, revision, take('10.84.4.9', 'SECOND')).expect(409))
      .body as Conflict<Plan>;
    expect([clash.places, clash.by, clash.theirs.addresses!['10.84.4.9'], clash.mine.addresses!['10.84.4.9']]).toEqual([
      ['10.84.4.9'],
      ['Maren Osterkamp'],
      { name: 'FIRST' },
      { name: 'SECOND' },
    ]);
    const joined = (await save(demo.maren, planId, revision, take('10.84.4.10', 'SECOND')).expect(200))
      .body as Saved<Plan>;
    expect(joined.merged!.addresses).toMatchObject({
      '10.84.4.9': { name: 'FIRST' },
      '10.84.4.10': { name: 'SECOND' },
    });
    const add = (id: string, prefix: string): object => ({ kind: 'addBlock', id, block: { prefix, name: id } });
    await save(demo.maren, planId, revision + 2, add('one', '10.84.13.0/24')).expect(200);
    const space = (await save(demo.maren, planId, revision + 2, add('two', '10.84.13.64/26')).expect(409))
      .body as Conflict<Plan>;
    expect(space.places).toEqual(['10.84.13.64/26']);
    await save(demo.maren, planId, revision + 2, add('two', '10.84.14.0/24')).expect(200);
  });

  test.each<[string, object, RegExp]>([
    ['an address that is none', take('10.84.1.300', 'X'), /300/],
    ['an address in another spelling', take('fd5e::0001', 'X'), /is written fd5e::1/],
    ['an address that is taken', take('10.84.1.11', 'X'), /is taken by DESK-1/],
    ['taking the whole plan away', { kind: 'edits', edits: [{ path: [] }] }, /not taken away/],
    ['a list in its place', { kind: 'edits', edits: [{ path: [], value: [] }] }, /not taken away/],
    ['a command of a drawing', { kind: 'removeDevices', ids: ['a'] }, /"removeDevices"|kind/],
    [
      'a block with what no block has',
      { kind: 'addBlock', id: 'a', block: { prefix: '', name: '', colour: 'red' } },
      /"colour" is not known/,
    ],
  ])('%s is refused and nothing is stored', async (_what, command, wanted) => {
    const { planId } = await demo.labOf('Three Stations');
    const before = await demo.plan(demo.maren, planId);
    const { message, problems } = refusal(await save(demo.maren, planId, before.revision, command).expect(422));
    expect([message, ...(problems ?? []).map((problem) => problem.text)].join(' ')).toMatch(wanted);
    expect(await demo.plan(demo.maren, planId)).toEqual(before);
  });
});

describe('a student’s plan', () => {
  test('begins empty, is kept, handed in and checked by the same code; what was handed in stays', async () => {
    const id = await demo.labId('Season Opening');
    const { planId } = await demo.myLab(demo.zofia, 'Season Opening');
    expect((await demo.plan(demo.zofia, planId)).document).toEqual({ blocks: {} });
    await demo.maren.get(`documents/${planId}`).expect(404);
    const block = { prefix: '10.84.0.0/24', name: 'Guests', group: 'guests-v', vlan: 10 };
    await save(demo.zofia, planId, 0, { kind: 'addBlock', id: 'a', block }).expect(200);
    const handedIn = (await demo.zofia.send('post', `my/labs/${id}/hand-in`).expect(201)).body as { id: string };
    await save(demo.zofia, planId, 1, { kind: 'removeBlocks', ids: ['a'] }).expect(200);
    const view = (await demo.maren.send('post', `submissions/${handedIn.id}/check`).expect(200)).body as SubmissionView;
    expect(view.plan).toEqual({ blocks: { a: block } });
    const room = view.result!.requirements.find((requirement) => requirement.id === '1.1')!;
    expect(room.items.filter((item) => item.met).map((item) => item.text)).toEqual([
      'Guests of the valley: 10.84.0.0/24 with 254 usable addresses; 209 are needed later.',
    ]);
  });
  test('comes in with a submission file; a drawing alone leaves the plan as it is', async () => {
    const tobias = await demo.running.as('tobias.ferreira');
    const id = await demo.labId('Season Opening');
    const plan = { blocks: { a: { prefix: '10.84.0.0/24', name: 'A' } } };
    const file = { format: 'sobrin-submission', version: 2, plan };
    expect(
      (await tobias.send('post', `my/labs/${id}/upload`, { text: JSON.stringify(file) }).expect(200)).body,
    ).toEqual({ taken: ['plan'], left: [] });
    const { planId, documentId } = await demo.myLab(tobias, 'Season Opening');
    const drawing = (await demo.drawing(tobias, documentId)).document;
    expect(
      (await tobias.send('post', `my/labs/${id}/upload`, { text: JSON.stringify(drawing) }).expect(200)).body,
    ).toEqual({ taken: ['drawing'], left: [] });
    expect((await demo.plan(tobias, planId)).document).toEqual(plan);
    const broken = { ...file, plan: { blocks: { a: { prefix: 5 } } } };
    expect(
      refusal(await tobias.send('post', `my/labs/${id}/upload`, { text: JSON.stringify(broken) }).expect(422))
        .problems![0]!.place,
    ).toMatch(/^plan › blocks/);
  });
});

describe('files that come with a lab', () => {
  const png = Buffer.from('iVBORw0KGgo=', 'base64');
  test('are shown to its students, travel with the lab, and are bounded', async () => {
    const id = await demo.labId('Season Opening');
    const picture = { name: 'ridge.png', type: 'image/png', base64: png.toString('base64') };
    const added = (await demo.maren.send('post', `labs/${id}/files`, picture).expect(201)).body as { id: string };
    const shown = await demo.zofia.get(`labs/${id}/files/${added.id}`).expect(200);
    expect([shown.headers['content-type'], Buffer.from(shown.body as Uint8Array).equals(png)]).toEqual([
      'image/png',
      true,
    ]);
    expect((await demo.myLab(demo.zofia, 'Season Opening')).files.map((file) => file.name)).toEqual(['ridge.png']);
    const file = await demo.maren.get(`labs/${id}/file`).expect(200);
    const course = (await demo.courses(demo.maren))[0]!.id;
    const copy = (
      await demo.maren.send('post', `courses/${course}/labs/import`, { text: JSON.stringify(file.body) }).expect(201)
    ).body as { id: string };
    expect((await demo.maren.get(`labs/${copy.id}/files/${added.id}`).expect(200)).headers['content-type']).toBe(
      'image/png',
    );
    const big = { ...picture, base64: Buffer.alloc(5_100_000).toString('base64') };
    expect(refusal(await demo.maren.send('post', `labs/${id}/files`, big).expect(400)).message).toMatch(
      /5\.1 MB: at most 5 MB/,
    );
    await demo.maren.send('delete', `labs/${id}/files/${added.id}`).expect(204);
    await demo.zofia.get(`labs/${id}/files/${added.id}`).expect(404);
  });
  test('a page or a drawing with scripts is only ever a download', async () => {
    const id = await demo.labId('Season Opening');
    for (const type of ['text/html', 'image/svg+xml']) {
      const file = { name: 'x', type, base64: Buffer.from('<svg onload="alert(1)"/>').toString('base64') };
      const added = (await demo.maren.send('post', `labs/${id}/files`, file).expect(201)).body as { id: string };
      const { headers } = await demo.zofia.get(`labs/${id}/files/${added.id}`).expect(200);
      expect([headers['content-type'], headers['content-disposition']]).toEqual([
        'application/octet-stream',
        expect.stringMatching(/^attachment/),
      ]);
    }
  });
});
