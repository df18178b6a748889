import { EMPTY } from 'rxjs';
import { type Conflict } from '@sobrin/contracts';
import { type Topology } from '@sobrin/core/topology';
import { randomUUID } from 'node:crypto';
import { DocumentsService } from './documents.service';
import { MOST_LINES, liveEvents } from './live';
import { DocumentsController } from '../submissions/documents.controller';
import { type Person } from '../tests/application';
import { refusal, useDemo } from '../tests/demo';

const demo = useDemo();

describe('a student’s drawing', () => {
  const device = { name: 'PC', model: 'desktop', at: { x: 0, y: 0 } };
  const save = (who: Person, id: string, base: number, commands: object[]) =>
    who.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands });

  test('a stale save that goes together with the newer one is replayed; one that does not shows both versions', async () => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    await save(demo.zofia, documentId, 0, [
      { kind: 'addDevice', id: 'a', device },
      { kind: 'addDevice', id: 'b', device: { ...device, name: 'B' } },
    ]).expect(200);
    await save(demo.zofia, documentId, 1, [{ kind: 'setDevice', id: 'a', set: { name: 'first' } }]).expect(200);
    const replayed = await save(demo.zofia, documentId, 1, [{ kind: 'move', to: { a: { x: 7, y: 7 } } }]).expect(200);
    expect((replayed.body as { merged: Topology }).merged.devices.a).toEqual({
      ...device,
      name: 'first',
      at: { x: 7, y: 7 },
    });
    const clash = (
      await save(demo.zofia, documentId, 1, [{ kind: 'setDevice', id: 'a', set: { name: 'second' } }]).expect(409)
    ).body as Conflict;
    expect([clash.places, clash.by, clash.mine.devices.a!.name, clash.theirs.devices.a!.name, clash.revision]).toEqual([
      ['first › name'],
      ['Zofia Wrona'],
      'second',
      'first',
      3,
    ]);
    expect((await demo.drawing(demo.zofia, documentId)).document.devices.a!.name).toBe('first');
    expect((await save(demo.zofia, documentId, 2, [{ kind: 'removeDevices', ids: ['a'] }])).status).toBe(409);
  });

  test('a save that is sent again because its answer got lost is answered and not made twice', async () => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const { revision } = await demo.drawing(demo.zofia, documentId);
    const again = { save: randomUUID(), base: revision, commands: [{ kind: 'addDevice', id: 'once', device }] };
    for (const _turn of ['first', 'again'])
      expect((await demo.zofia.send('post', `documents/${documentId}/changes`, again).expect(200)).body).toMatchObject({
        revision: revision + 1,
      });
    expect((await demo.drawing(demo.zofia, documentId)).revision).toBe(revision + 1);
  });

  test('a save that means to set what all objects inherit is refused, and the drawing stays as it was', async () => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const before = await demo.drawing(demo.zofia, documentId);
    // Written as text: an object literal would set the prototype here already.
    const edits: unknown[] = [
      [{ path: ['devices'] }, { path: ['__proto__'], value: { devices: {} } }],
      [{ path: ['__proto__', 'devices'], value: {} }],
      [{ path: ['devices', '__proto__'], value: { ...device } }],
      [{ path: ['devices', 'x', '__proto__', 'name'], value: 'x' }],
      [
        {
          path: [],
          value: JSON.parse(
            '{"__proto__": {"format": "sobrin-topology", "version": 1, "sites": {}, "devices": {}, "links": {}}}',
          ) as unknown,
        },
      ],
    ];
    for (const edit of edits)
      expect(
        (await save(demo.zofia, documentId, before.revision, [{ kind: 'edits', edits: edit }])).status,
      ).toBeGreaterThanOrEqual(400);
    expect(await demo.drawing(demo.zofia, documentId)).toEqual(before);
  });

  test('two saves at the same moment: each is kept or refused, none is lost', async () => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const { revision } = await demo.drawing(demo.zofia, documentId);
    const answers = await Promise.all(
      [1, 2, 3, 4].map((n) => save(demo.zofia, documentId, revision, [{ kind: 'addDevice', id: `p${n}`, device }])),
    );
    expect(answers.map((answer) => answer.status)).toEqual([200, 200, 200, 200]);
    expect(Object.keys((await demo.drawing(demo.zofia, documentId)).document.devices)).toEqual(
      expect.arrayContaining(['p1', 'p2', 'p3', 'p4']),
    );
  });

  test.each<[string, object[], RegExp]>([
    ['a command that is none', [{ kind: 'explode' }], /cannot be read/],
    [
      'a link to a missing port',
      [
        {
          kind: 'connect',
          id: 'l',
          link: { a: { device: 'a', port: 'e9' }, b: { device: 'b', port: 'e0' }, medium: 'straight' },
        },
      ],
      /has no port "e9"/,
    ],
    [
      'raw edits that break the drawing',
      [{ kind: 'edits', edits: [{ path: ['devices', 'a', 'site'], value: 'moon' }] }],
      /does not hold together/,
    ],
    ['taking the whole drawing away', [{ kind: 'edits', edits: [{ path: [] }] }], /not taken away/],
    ['a word in its place', [{ kind: 'edits', edits: [{ path: [], value: 'x' }] }], /not taken away/],
    [
      'raw edits of a wrong shape',
      [{ kind: 'edits', edits: [{ path: ['devices', 'a', 'name'], value: 7 }] }],
      /does not hold together/,
    ],
  ])('%s is refused and nothing is stored', async (_what, commands, wanted) => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const before = await demo.drawing(demo.zofia, documentId);
    expect(refusal(await save(demo.zofia, documentId, before.revision, commands).expect(422)).message).toMatch(wanted);
    expect(await demo.drawing(demo.zofia, documentId)).toEqual(before);
  });

  const upload = async (who: Person, text: string) =>
    who.send('post', `my/labs/${await demo.labId('Three Stations')}/upload`, { text });
  test.each<[string, () => string, number, RegExp]>([
    ['broken JSON', () => '{"format": "sobrin-topology",\n}', 422, /line 2, column/],
    [
      'a wrong version',
      () => JSON.stringify({ format: 'sobrin-topology', version: 9, sites: {}, devices: {}, links: {} }),
      422,
      /Version 9/,
    ],
    [
      'an unknown model',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          devices: { a: { ...device, model: 'toaster' } },
          links: {},
        }),
      422,
      /unknown model "toaster"/,
    ],
    [
      'a double id',
      () =>
        '{"format":"sobrin-topology","version":1,"sites":{},"links":{},"devices":{"a":{"name":"A","model":"hub","at":{"x":0,"y":0}},"a":{"name":"B","model":"hub","at":{"x":0,"y":0}}}}',
      422,
      /"a" is there twice/,
    ],
    [
      'a link to a missing port',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          devices: { a: device },
          links: { l: { a: { device: 'a', port: 'z' }, b: { device: 'a', port: 'e0' }, medium: 'straight' } },
        }),
      422,
      /has no port "z"/,
    ],
    [
      '3 MB',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          devices: {},
          links: {},
          legend: 'x'.repeat(3_000_000),
        }),
      422,
      /3\.0 MB: at most 2\.0 MB/,
    ],
    ['16 MB', () => 'x'.repeat(16_000_000), 413, /at most 10 MB/],
    [
      '5,001 devices',
      () =>
        JSON.stringify({
          format: 'sobrin-topology',
          version: 1,
          sites: {},
          links: {},
          devices: Object.fromEntries(Array.from({ length: 5001 }, (_, at) => [`d${at}`, device])),
        }),
      422,
      /5001 devices: at most 5000/,
    ],
  ])('an upload with %s is refused with a sentence, and the drawing stays', async (_what, text, status, wanted) => {
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const before = await demo.drawing(demo.zofia, documentId);
    const response = await upload(demo.zofia, text());
    expect(response.status).toBe(status);
    const { message, problems } = refusal(response);
    expect(problems?.length ? problems.map((problem) => problem.text).join(' ') : message).toMatch(wanted);
    expect(await demo.drawing(demo.zofia, documentId)).toEqual(before);
  });

  test('names with HTML in them are kept as the text they are', async () => {
    const name = '<img src=x onerror=alert(1)>';
    const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
    const { revision } = await demo.drawing(demo.zofia, documentId);
    await save(demo.zofia, documentId, revision, [
      { kind: 'addDevice', id: 'html', device: { ...device, name } },
    ]).expect(200);
    expect((await demo.drawing(demo.zofia, documentId)).document.devices.html!.name).toBe(name);
  });
});

test('who has a document open hears of every save, and nobody else does', async () => {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const { revision } = await demo.drawing(demo.zofia, id);
  const live = demo.running.app
    .get(DocumentsController)
    .live(demo.zofia.me, { id, lab: null, mayEdit: true, speaksAs: null }, () => Promise.resolve(true));
  const heard: unknown[] = [];
  const listening = new Promise<void>((resolve) => {
    const stop = live.subscribe(({ type, data }) => {
      if (type !== 'saved') return;
      heard.push(type, data);
      if (heard.length < 4) return;
      stop.unsubscribe();
      resolve();
    });
  });
  const commands = [{ kind: 'setDocument', set: { title: 'Live' } }];
  await demo.zofia
    .send('post', `documents/${id}/changes`, { save: randomUUID(), base: revision, commands })
    .expect(200);
  await listening;
  expect(heard).toEqual(['saved', String(revision), 'saved', String(revision + 1)]);
  await (await demo.running.as('eero.lahtinen')).get(`documents/${id}/live`).expect(404);
});

test('one person has so many live lines and no more; a line that is closed makes room', async () => {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const controller = demo.running.app.get(DocumentsController);
  const open = () =>
    controller
      .live(demo.zofia.me, { id, lab: null, mayEdit: true, speaksAs: null }, () => Promise.resolve(true))
      .subscribe();
  const lines = [];
  for (let at = 0; at < MOST_LINES; at++) lines.push(open());
  expect(open).toThrow(/close some of them/);
  lines.pop()!.unsubscribe();
  lines.push(open());
  for (const line of lines) line.unsubscribe();
});

test('a live line ends with the session and with the right to look, and tells nothing after it', async () => {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Three Stations');
  const documents = demo.running.app.get(DocumentsService);
  let isAllowed = true;
  const heard: string[] = [];
  const line = liveEvents(
    demo.zofia.me,
    documents,
    [id],
    (_id, revision) => String(revision),
    () => Promise.resolve(isAllowed),
    EMPTY,
    20,
  );
  await new Promise<void>((resolve) => {
    line.subscribe({
      next: ({ type }) => {
        heard.push(type!);
        if (heard.filter((each) => each === 'beat').length === 3) isAllowed = false;
      },
      complete: resolve,
    });
  });
  expect(heard.slice(0, 2)).toEqual(['saved', 'beat']);
  // A session that has ended says so to what lasts.
  const person = await demo.running.as('mateusz.gawron');
  await person.send('post', 'auth/sign-out').expect(204);
  await person.get(`documents/${id}/live`).expect(401);
});
