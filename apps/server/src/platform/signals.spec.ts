import { randomUUID } from 'node:crypto';
import { type MessageEvent } from '@nestjs/common';
import { filter, firstValueFrom, skip, take, toArray } from 'rxjs';
import { DataSource } from 'typeorm';
import { DocumentsController } from '../submissions/documents.controller';
import { useDemo } from '../tests/demo';
import { SignalsService } from './signals.service';

const demo = useDemo();
const always = () => Promise.resolve(true);

async function ownDrawing(): Promise<{ id: string; save: (title: string) => Promise<number> }> {
  const { documentId: id } = await demo.myLab(demo.zofia, 'Valley Station LAN');
  return {
    id,
    save: async (title) => {
      const { revision: base } = await demo.drawing(demo.zofia, id);
      const commands = [{ kind: 'setDocument', set: { title } }];
      await demo.zofia.send('post', `documents/${id}/changes`, { save: randomUUID(), base, commands }).expect(200);
      return base + 1;
    },
  };
}

/** Who is there is told on the same line. */
const saves = filter(({ type }: MessageEvent) => type === 'saved');

test('what one server saves is told by another', async () => {
  const other = await demo.running.again();
  const { id, save } = await ownDrawing();
  const line = other.app
    .get(DocumentsController)
    .live(demo.zofia.me, { id, lab: null, mayEdit: true, speaksAs: null }, always);
  const told = firstValueFrom(line.pipe(saves, skip(1), take(2), toArray()));
  const revisions = [await save('first'), await save('second')];
  expect((await told).map(({ data }) => Number(data))).toEqual(revisions);
  await other.close();
});

test('a line to the database that breaks comes back, and what was missed is told', async () => {
  const { id, save } = await ownDrawing();
  const line = demo.running.app
    .get(DocumentsController)
    .live(demo.zofia.me, { id, lab: null, mayEdit: true, speaksAs: null }, always);
  const db = demo.running.app.get(DataSource);
  const cut = (): Promise<unknown> =>
    db.query(
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'sobrin signals' AND datname = current_database()`,
    );
  let revision = 0;
  const told = new Promise<void>((resolve) => {
    const stop = line.subscribe(({ data }) => {
      if (!revision || Number(data) < revision) return;
      stop.unsubscribe();
      resolve();
    });
  });
  const back = firstValueFrom(demo.running.app.get(SignalsService).missed);
  await cut();
  revision = await save('while it was away');
  await back;
  await told;
  expect((await demo.drawing(demo.zofia, id)).revision).toBe(revision);
});

test('a change that is taken back is told to nobody', async () => {
  const db = demo.running.app.get(DataSource);
  const signals = demo.running.app.get(SignalsService);
  const heard: string[] = [];
  const stop = signals.of('saved').subscribe(({ id }) => heard.push(id));
  const [gone, stays] = [randomUUID(), randomUUID()];
  await expect(
    db.transaction(async (manager) => {
      await signals.tell(manager, 'saved', { id: gone, revision: 1 });
      throw new Error('no');
    }),
  ).rejects.toThrow('no');
  const told = firstValueFrom(signals.of('saved'));
  await signals.tell(db.manager, 'saved', { id: stays, revision: 1 });
  await told;
  stop.unsubscribe();
  expect(heard).toEqual([stays]);
});
