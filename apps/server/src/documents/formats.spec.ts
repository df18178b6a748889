import { LabFile } from '@sobrin/core/spec';
import { Plan } from '@sobrin/core/plan';
import { Topology } from '@sobrin/core/topology';
import { createHash, randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { pendingMigrations } from '../platform/database';
import { refusal, useDemo } from '../tests/demo';
import { type DocumentKindName } from './document-kinds';
import { type Formats, FORMATS, raiseDocuments, raised } from './formats';
import { versionOf } from './stored-version';
import { VersionsService } from './versions.service';

const demo = useDemo();

/** A made-up next version of each format: what was there lies one level deeper, so that no path of before fits. */
const NEXT = Object.fromEntries(
  Object.entries(FORMATS).map(([kind, { version }]) => [
    kind,
    { version: version + 1, raise: { [version]: (document: object) => ({ inside: document }) } },
  ]),
) as Formats;

describe('when the format of documents changes', () => {
  test('every earlier version of each kind is there as it was, in the new format', async () => {
    const { manager } = demo.running.app.get(DataSource);
    const versions = demo.running.app.get(VersionsService);
    const lab = await demo.labOf('Three Stations');
    const edits = (path: string[], value: unknown) => ({ kind: 'edits', edits: [{ path, value }] });
    const saves: [string, (n: number) => object][] = [
      [lab.referenceId, (n) => ({ kind: 'setDocument', set: { title: `Drawing ${n}` } })],
      [
        lab.planId,
        (n) => ({ kind: 'setRange', id: 'r9', set: { from: `10.99.0.${n}`, to: '10.99.0.9', use: 'kept' } }),
      ],
      [lab.documents.brief, (n) => edits(['scenario'], `Brief ${n}`)],
      [lab.documents.policy, (n) => edits(['attempts'], n)],
    ];
    const before = new Map<string, object[]>();
    for (const [id, command] of saves) {
      for (const n of [1, 2, 3]) {
        const { revision } = await demo.drawing(demo.maren, id);
        const save = { save: randomUUID(), base: revision, commands: [command(n)] };
        const answer = await demo.maren.send('post', `documents/${id}/changes`, save);
        if (answer.status !== 200) throw new Error(`${id}: ${JSON.stringify(answer.body)}`);
      }
      const { revision } = await demo.drawing(demo.maren, id);
      before.set(
        id,
        await Promise.all(
          Array.from({ length: revision + 1 }, async (_, at) => (await versions.read(id, at)).document),
        ),
      );
    }
    const wasOf = await demo.drawing(demo.maren, lab.referenceId);
    expect(await pendingMigrations()).toBe(0);
    await manager.transaction((inside) => raiseDocuments(inside, NEXT));
    for (const [id, documents] of before)
      for (const [revision, document] of documents.entries())
        expect([id, revision, versionOf(await versions.stored(id, revision), NEXT)]).toEqual([
          id,
          revision,
          { inside: document },
        ]);
    // Nothing is raised twice, and an older Sobrin does not touch what it does not know.
    await manager.transaction((inside) => raiseDocuments(inside, NEXT));
    await expect(manager.transaction((inside) => raiseDocuments(inside))).rejects.toThrow(/of a newer Sobrin/);
    // Whoever had the page open before is told, and nothing of theirs is put on a document that it does not fit.
    await manager.query('UPDATE document SET revision = revision + 1 WHERE id = $1', [lab.referenceId]);
    const late = await demo.maren.send('post', `documents/${lab.referenceId}/changes`, {
      save: randomUUID(),
      base: wasOf.revision - 1,
      commands: [{ kind: 'setDocument', set: { title: 'Late' } }],
    });
    expect([late.status, refusal(late).message]).toEqual([422, expect.stringMatching(/brought up to date/)]);
  });
  test('a document that skipped a version goes through each; where a step is missing nothing is guessed', () => {
    const steps: Formats = {
      ...FORMATS,
      plan: { version: 3, raise: { 1: (plan) => ({ ...plan, two: 1 }), 2: (plan) => ({ ...plan, three: 1 }) } },
    };
    expect(raised('plan', 1, { blocks: {} }, steps)).toEqual({ blocks: {}, two: 1, three: 1 });
    expect(raised('plan', 2, { blocks: {} }, steps)).toEqual({ blocks: {}, three: 1 });
    expect(() => raised('topology', 0, {})).toThrow(/Nothing makes a topology of format 0/);
  });
});

/**
 * What is stored today, by the version of its format. Whoever changes a schema gives its format a new version with what
 * raises the one before (formats.ts), and writes down here what the new one looks like. A line is never changed.
 */
const KNOWN: Readonly<Record<string, string>> = {
  'brief 2': 'd38a29fef5555137',
  'brief 3': '6290dfd603ac70d0',
  'brief 4': '6290dfd603ac70d0',
  'brief 5': '6290dfd603ac70d0',
  'brief 6': '6290dfd603ac70d0',
  'brief 7': '6290dfd603ac70d0',
  'brief 8': '6290dfd603ac70d0',
  'brief 9': '6290dfd603ac70d0',
  'handout 2': '243ba5a55836f833',
  'handout 3': '243ba5a55836f833',
  'handout 4': '243ba5a55836f833',
  'handout 5': '243ba5a55836f833',
  'handout 6': '243ba5a55836f833',
  'handout 7': '243ba5a55836f833',
  'handout 8': '243ba5a55836f833',
  'handout 9': '243ba5a55836f833',
  'plan 1': '40d1a49607efa86c',
  'plan 2': '8c24ee18be9c0ee8',
  'policy 2': '56d157673b69515c',
  'policy 3': '44d9c8cae7805075',
  'policy 4': '4025430897ac971f',
  'policy 5': '357f8dd71f660649',
  'policy 6': '357f8dd71f660649',
  'policy 7': '2062f8c2ba6d2c09',
  'policy 8': '67084d4c254581ad',
  'policy 9': 'db58e4dc2272d5cc',
  'spec 2': '0a3c8c34c8d5d998',
  'spec 3': '0a3c8c34c8d5d998',
  'spec 4': 'f5c529f48b1080bf',
  'spec 5': 'f5c529f48b1080bf',
  'spec 6': '94c91137b1fc4524',
  'spec 7': '0dd2a7a6ccb80a8b',
  'spec 8': 'f8499c0494b89857',
  'spec 9': 'f8499c0494b89857',
  'stages 2': '413e42a9114bb1e7',
  'stages 3': '413e42a9114bb1e7',
  'stages 4': '413e42a9114bb1e7',
  'stages 5': '413e42a9114bb1e7',
  'stages 6': '413e42a9114bb1e7',
  'stages 7': '413e42a9114bb1e7',
  'stages 8': '413e42a9114bb1e7',
  'stages 9': '413e42a9114bb1e7',
  'starter 1': '39bfd1f504171488',
  'starter 2': 'f262a434917fe2c9',
  'starter 3': '348ec4847e3c94f2',
  'starter 4': '10489c99c1be9dba',
  'tasks 2': '070ae08f99f4480c',
  'tasks 3': '070ae08f99f4480c',
  'tasks 4': '070ae08f99f4480c',
  'tasks 5': '070ae08f99f4480c',
  'tasks 6': '070ae08f99f4480c',
  'tasks 7': '070ae08f99f4480c',
  'tasks 8': '070ae08f99f4480c',
  'tasks 9': '070ae08f99f4480c',
  'topology 1': '39bfd1f504171488',
  'topology 2': 'f262a434917fe2c9',
  'topology 3': '348ec4847e3c94f2',
  'topology 4': '10489c99c1be9dba',
};

test('a schema that changed has a new version', () => {
  const schemas: Record<DocumentKindName, object> = {
    ...LabFile.properties,
    topology: Topology,
    starter: Topology,
    plan: Plan,
  };
  const seen: Record<string, string> = {};
  for (const kind of Object.keys(FORMATS) as DocumentKindName[]) {
    const digest = createHash('sha256').update(JSON.stringify(schemas[kind])).digest('hex').slice(0, 16);
    const name = `${kind} ${FORMATS[kind].version}`;
    seen[name] = digest;
  }
  expect(KNOWN).toMatchObject(seen);
});
