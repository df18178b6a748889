import { type Present } from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import { filter, firstValueFrom, map, timeout } from 'rxjs';
import { DataSource } from 'typeorm';
import { Account } from '../accounts/account.entity';
import { LabsController } from '../labs/labs.controller';
import { Assignment } from '../assignments/assignment.entity';
import { DocumentsController } from '../submissions/documents.controller';
import { type Person, type TestApplication } from '../tests/application';
import { useDemo } from '../tests/demo';
import { PresenceService } from './presence.service';

const demo = useDemo();
const always = (): Promise<boolean> => Promise.resolve(true);
/** A second instructor, who may change the lab. */
async function colleague(login: string): Promise<Person> {
  const { id: lab, courseId } = await demo.labOf('Three Stations');
  const account = { id: randomUUID(), login, name: `Colleague ${login}`, mayCreateCourses: false };
  await demo.running.app
    .get(DataSource)
    .getRepository(Account)
    .insert({ ...account, passwordHash: 'x', demo: true });
  await demo.maren
    .send('post', `courses/${courseId}/roster`, { students: [{ login, name: login, role: 'instructor' }] })
    .expect(201);
  const person = await demo.running.as(login);
  await person.send('post', `courses/${courseId}/membership`).expect(204);
  await demo.maren.send('put', `labs/${lab}/editors`, { accounts: [account.id] }).expect(200);
  return person;
}
/** Who is told to a person at a place, by one of the servers, once it is so many. */
const told = (server: TestApplication, who: Person, place: string, count: number): Promise<Present[]> =>
  firstValueFrom(
    server.app
      .get(PresenceService)
      .at(who.me, place)
      .pipe(
        filter((others) => others.length === count),
        timeout(30_000),
      ),
  );

test('who has a drawing open is told to the others, on whichever server, and not any more when they leave', async () => {
  const { referenceId } = await demo.labOf('Three Stations');
  const gro = await colleague('gro');
  const other = await demo.running.again();
  const line = other.app
    .get(DocumentsController)
    .live(gro.me, { id: referenceId, lab: (await assignment()).lab, mayEdit: true, speaksAs: null }, always)
    .subscribe();
  expect(await told(demo.running, demo.maren, referenceId, 1)).toEqual([{ id: gro.me.id, name: 'Colleague gro' }]);
  line.unsubscribe();
  expect(await told(demo.running, demo.maren, referenceId, 0)).toEqual([]);
  await other.close();
});

const assignment = async (): Promise<Assignment> =>
  demo.running.app.get(DataSource).manager.findOneByOrFail(Assignment, { id: await demo.labId('Three Stations') });

test('who may only read is not told, and a student who draws alone is told of nobody', async () => {
  const { documentId } = await demo.myLab(demo.zofia, 'Three Stations');
  const controller = demo.running.app.get(DocumentsController);
  const present: unknown[] = [];
  const own = controller
    .live(demo.zofia.me, { id: documentId, lab: null, mayEdit: true, speaksAs: null }, always)
    .subscribe(({ type, data }) => type === 'present' && present.push(data));
  const { referenceId } = await demo.labOf('Three Stations');
  const reader = controller
    .live(demo.zofia.me, { id: referenceId, lab: (await assignment()).lab, mayEdit: false, speaksAs: null }, always)
    .subscribe(({ type, data }) => type === 'present' && present.push(data));
  expect(await told(demo.running, demo.maren, referenceId, 1)).toMatchObject([{ id: demo.zofia.me.id }]);
  expect(present).toEqual(['[]']);
  own.unsubscribe();
  reader.unsubscribe();
});

test('a server that died is forgotten with all who were there by it', async () => {
  const { referenceId } = await demo.labOf('Valley Station LAN');
  await demo.running.app
    .get(DataSource)
    .query(`INSERT INTO document_open VALUES (gen_random_uuid(), $1, $2, now() - interval '80 seconds')`, [
      referenceId,
      demo.zofia.me.id,
    ]);
  expect(await told(demo.running, demo.maren, referenceId, 0)).toEqual([]);
});

test('the line of a lab tells when its checks go on', async () => {
  const line = await demo.running.app.get(LabsController).live(demo.maren.me, await assignment(), always);
  const told = firstValueFrom(
    line.pipe(
      filter(({ type }) => type === 'checks'),
      map(({ type }) => type),
      timeout(30_000),
    ),
  );
  await demo.maren.send('post', `labs/${await demo.labId('Three Stations')}/checks`).expect(202);
  expect(await told).toBe('checks');
});
