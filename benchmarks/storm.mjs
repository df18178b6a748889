// npm run storm [-- check | short]: a class of 300 hands in while 30 draw, all of it is checked while others work, and all
// of it is decided, commented and diagnosed at once by two persons at two servers; students ask what they would earn, and for hints. On
// loopback, with a database and processes of its own; figures of this machine at this moment, beside a route that does
// nothing. "check" leaves out the slow hand-in; "short" is a class of 20, which the tests run: it fails where anything
// was lost, and measures nothing that counts.
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buildAll } from '../scripts/lib/build.mjs';
import { freePort, onDatabase, startPostgres } from '../scripts/lib/postgres.mjs';
import { root } from '../scripts/lib/root.mjs';
import { ensureDependencies } from '../scripts/lib/system.mjs';

const mode = process.argv[2];
const [STUDENTS, DRAWING] = mode === 'short' ? [20, 4] : [300, 30];
/** In how many seconds all hand in, one time after the other. */
const BELLS = mode === 'short' ? [2] : mode === 'check' ? [10] : [10, 60];
let broken = 0;
const TITLE = 'Three Stations';
const folder = mkdtempSync(path.join(tmpdir(), 'sobrin-storm-'));
chmodSync(folder, 0o755);
const processes = new Set();

// Cut short, it leaves nothing behind: the database ends with this process.
let database = null;
process.once('SIGTERM', () => {
  for (const child of processes) child.kill('SIGKILL');
  database?.stop();
  rmSync(folder, { recursive: true, force: true });
  process.exit(143);
});

function start(file, env) {
  const child = spawn(process.execPath, [path.join(root, 'apps/server/dist', file)], {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, NODE_ENV: 'production', SOBRIN_DEMO: '1', ...env },
  });
  processes.add(child);
  return new Promise((resolve, reject) => {
    child.once('message', () => resolve(child));
    child.once('exit', (code) => reject(new Error(`${file} ended with ${code}.`)));
  });
}
async function end(child) {
  processes.delete(child);
  const gone = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await gone;
}

/** What a person's browser does: one cookie, JSON, and how long each answer took. */
class Person {
  constructor(base, times) {
    Object.assign(this, { base, times, cookie: '' });
  }
  async ask(method, place, body) {
    const begin = performance.now();
    const response = await fetch(`${this.base}/api/${place}`, {
      method,
      headers: { 'content-type': 'application/json', 'x-sobrin-request': '1', cookie: this.cookie },
      body: body && JSON.stringify(body),
    });
    const text = await response.text();
    this.times?.push(performance.now() - begin);
    if (!response.ok) throw new Error(`${method} ${place}: ${response.status} ${text.slice(0, 200)}`);
    const set = response.headers.getSetCookie();
    if (set.length) this.cookie = set.map((cookie) => cookie.split(';')[0]).join('; ');
    return text ? JSON.parse(text) : null;
  }
  signIn = (login) => this.ask('POST', 'auth/demo-sign-in', { login });
}

const quantile = (sorted, share) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;
function figures(times) {
  const sorted = [...times].sort((a, b) => a - b);
  const [p50, p95, p99] = [0.5, 0.95, 0.99].map((share) => `${quantile(sorted, share).toFixed(0)} ms`);
  return `${sorted.length} answers, p50 ${p50}, p95 ${p95}, p99 ${p99}`;
}
const p95 = (times) =>
  quantile(
    [...times].sort((a, b) => a - b),
    0.95,
  );
const memory = ({ pid }) =>
  `${Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1000)} MB`;
/** Processor time of a process with its threads, in seconds. */
const used = ({ pid }) => {
  const [, rest] = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ');
  const fields = rest.split(' ');
  return (Number(fields[11]) + Number(fields[12])) / 100;
};
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** How long a route of Node alone takes meanwhile: what the machine gives at that moment. */
async function bare() {
  const server = createServer((_request, response) => response.end('{}')).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const times = [];
  let isOver = false;
  const asking = (async () => {
    while (!isOver) {
      const begin = performance.now();
      await (await fetch(`http://127.0.0.1:${server.address().port}/`)).text();
      times.push(performance.now() - begin);
      await pause(20);
    }
  })();
  return async () => {
    isOver = true;
    await asking;
    server.close();
    return times;
  };
}

/** Thirty people save a change every half second, until they are stopped; gives the times and how many saves were confirmed. */
function draw(people) {
  const state = { isOver: false, saves: 0, failed: 0 };
  const all = people.map(async ({ person, document }) => {
    let { revision } = await person.ask('GET', `documents/${document}`);
    while (!state.isOver) {
      await pause(500);
      const commands = [{ kind: 'setDocument', set: { legend: `${revision}` } }];
      try {
        const saved = await person.ask('POST', `documents/${document}/changes`, {
          save: randomUUID(),
          base: revision,
          commands,
        });
        revision = saved.revision;
        state.saves++;
      } catch {
        state.failed++;
      }
    }
  });
  return async () => {
    state.isOver = true;
    await Promise.all(all);
    return state;
  };
}

/** Two persons say something about each submission at once, each twice with one id, as after an answer that was lost. */
async function commentAll(persons, submissions, url) {
  const begin = performance.now();
  let errors = 0;
  await Promise.all(
    submissions.flatMap((submission) =>
      persons.flatMap((person, at) => {
        const comment = { id: randomUUID(), kind: 'work', target: '', text: `Person ${at} on the whole work.` };
        const say = () => person.ask('POST', `submissions/${submission}/comments`, comment).catch(() => errors++);
        return [say(), say()];
      }),
    ),
  );
  const seconds = (performance.now() - begin) / 1000;
  const [{ count }] = await onDatabase(url, 'SELECT count(*)::int FROM submission_comment');
  const wrong = Math.abs(persons.length * submissions.length - count);
  console.log(
    `\n${submissions.length} submissions commented by two persons in ${seconds.toFixed(1)} s: ${errors} errors, ${count} kept, ${wrong} lost or doubled`,
  );
  broken += errors + wrong;
}

/**
 * Students ask at once more often than their lab allows: each is told as often as it says, and refused otherwise.
 *
 * @param what in words; where it is asked for; how often each may, and what is sent, by their view of the lab; the table
 *   that keeps it; and what a refusal says
 */
async function askAll(people, lab, url, { what, route, most, body, table, refusal }) {
  const works = await Promise.all(people.map((person) => person.ask('GET', `my/labs/${lab}`)));
  const allowed = most(works[0]);
  const begin = performance.now();
  let [told, refused, errors] = [0, 0, 0];
  await Promise.all(
    people.flatMap((person, at) =>
      Array.from({ length: allowed + 2 }, () =>
        person
          .ask('POST', `my/labs/${lab}/${route}`, {
            id: randomUUID(),
            drawing: works[at].documentId,
            ...body(works[at]),
          })
          .then(
            () => told++,
            ({ message }) => (message.includes(refusal) ? refused++ : errors++),
          ),
      ),
    ),
  );
  const seconds = (performance.now() - begin) / 1000;
  const [{ count, highest }] = await onDatabase(
    url,
    `SELECT COALESCE(sum(n), 0)::int AS count, COALESCE(max(n), 0)::int AS highest
      FROM (SELECT count(*)::int AS n FROM ${table} GROUP BY work_id) each`,
  );
  const wrong = Math.abs(people.length * allowed - count) + Math.abs(told - count) + Number(highest > allowed);
  console.log(
    `\n${people.length} students ask for ${allowed + 2} ${what} each at once, ${allowed} are allowed, in ${seconds.toFixed(1)} s: ${errors} errors, ${told} told, ${refused} refused, ${wrong} too many or too few`,
  );
  broken += errors + wrong;
}

const SELF_CHECKS = {
  what: 'self-checks',
  route: 'self-checks',
  most: ({ selfChecks }) => selfChecks.most,
  body: () => ({}),
  table: 'self_check',
  refusal: 'You have used all',
};
const HINTS = {
  what: 'hints',
  route: 'hints',
  most: ({ hints }) => hints.of[0].left,
  body: ({ hints }) => ({ key: hints.of[0].key, cost: hints.cost }),
  table: 'asked_hint',
  refusal: 'You have all hints',
};

/** Two persons at two servers ask for the mistakes of a class, and for those of the first few themselves, while workers look for them. */
async function diagnoseAll(persons, lab, submissions, url) {
  const begin = performance.now();
  let errors = 0;
  await Promise.all(
    persons.flatMap((person) => [
      person.ask('POST', `labs/${lab}/causes`).catch(() => errors++),
      ...submissions
        .slice(0, 8)
        .map((submission) => person.ask('GET', `submissions/${submission}/diagnosis`).catch(() => errors++)),
    ]),
  );
  for (;;) {
    const { waiting, running, failed } = await persons[0].ask('GET', `labs/${lab}/causes`);
    errors += failed.length;
    if (failed.length || (!waiting && !running)) break;
    await pause(200);
  }
  const seconds = (performance.now() - begin) / 1000;
  const { looked, open } = await persons[1].ask('GET', `labs/${lab}/causes`);
  const [{ count }] = await onDatabase(url, 'SELECT count(*)::int FROM diagnosis');
  const wrong = open + Math.abs(looked - submissions.length) + Math.abs(count - submissions.length);
  console.log(
    `\nThe mistakes of ${submissions.length} looked for, asked by two persons at two servers, in ${seconds.toFixed(1)} s: ${errors} errors, ${count} kept, ${wrong} lost or doubled`,
  );
  broken += errors + wrong;
}

try {
  await ensureDependencies();
  await buildAll(() => {});
  database = await startPostgres(path.join(folder, 'data'), { fast: mode === 'short' });
  const port = await freePort();
  const base = `http://127.0.0.1:${port}`;
  const env = { PORT: String(port), DATABASE_URL: database.url };
  const server = await start('main.js', { ...env, SOBRIN_ROLE: 'web' });
  console.log(`${STUDENTS} students, each with a drawing of 39 devices`);
  await onDatabase(
    database.url,
    `INSERT INTO account (id, login, name, may_create_courses, demo)
      SELECT gen_random_uuid(), 'storm' || n, 'Storm ' || n, false, true FROM generate_series(1, ${STUDENTS}) n`,
  );
  await onDatabase(
    database.url,
    `INSERT INTO membership SELECT course.id, account.id, 'student', account.name, '', now() FROM course, account WHERE account.login LIKE 'storm%'`,
  );
  const maren = new Person(base);
  await maren.signIn('maren');
  const lab = (await maren.ask('GET', 'courses'))[0].labs.find(({ title }) => title === TITLE).id;
  const drawings = readdirSync(path.join(root, 'demo/three-stations/submissions')).map((name) =>
    readFileSync(path.join(root, 'demo/three-stations/submissions', name), 'utf8'),
  );
  const handing = [];
  const people = [];
  for (let first = 0; first < STUDENTS; first += 20)
    people.push(
      ...(await Promise.all(
        Array.from({ length: 20 }, async (_none, at) => {
          const person = new Person(base, null);
          await person.signIn(`storm${first + at + 1}`);
          await person.ask('POST', `my/labs/${lab}/upload`, { text: drawings[(first + at) % drawings.length] });
          const { documentId } = await person.ask('GET', `my/labs/${lab}`);
          person.times = handing;
          return { person, document: documentId };
        }),
      )),
    );

  for (const [bell, seconds] of BELLS.entries()) {
    handing.length = 0;
    const drawing = [];
    const drawers = people.slice(0, DRAWING).map(({ person, document }) => {
      const other = new Person(base, drawing);
      other.cookie = person.cookie;
      return { person: other, document };
    });
    const [stopDrawing, stopBare] = [draw(drawers), await bare()];
    let errors = 0;
    await Promise.all(
      people.map(async ({ person }, at) => {
        await pause((at * seconds * 1000) / STUDENTS);
        await person.ask('POST', `my/labs/${lab}/hand-in`, { handIn: randomUUID() }).catch(() => errors++);
      }),
    );
    const { saves, failed } = await stopDrawing();
    const nothing = await stopBare();
    const [{ count }] = await onDatabase(
      database.url,
      `SELECT count(*)::int FROM submission JOIN account ON account.id = student_id WHERE login LIKE 'storm%'`,
    );
    const lost = (bell + 1) * STUDENTS - errors - count;
    broken += lost + errors + failed;
    console.log(`\n${STUDENTS} hand-ins in ${seconds} s while ${DRAWING} draw`);
    console.log(`  handing in: ${figures(handing)}; ${errors} errors, ${lost} lost`);
    console.log(`  drawing: ${figures(drawing)}; ${saves} saves, ${failed} errors`);
    console.log(`  a bare route meanwhile: ${figures(nothing)}`);
    console.log(`  memory of the server: ${memory(server)}`);
  }

  // What others are answered when nothing else is done, and while a class is checked.
  const others = people.slice(0, DRAWING).map(({ person, document }) => {
    const other = new Person(base, []);
    other.cookie = person.cookie;
    return { person: other, document };
  });
  const timesOf = () => others.flatMap(({ person }) => person.times.splice(0));
  const stopIdle = draw(others);
  await pause(mode === 'short' ? 500 : 6_000);
  await stopIdle();
  const idle = timesOf();
  const took = [];
  const turns = [
    { threads: 1, isDrawing: false },
    { threads: 2, isDrawing: false },
    { threads: 2, isDrawing: true },
  ];
  for (const { threads, isDrawing } of mode === 'short' ? turns.slice(-1) : turns) {
    const worker = await start('worker.js', { ...env, SOBRIN_THREADS: String(threads) });
    // The first class meets threads whose code is not compiled yet, which takes as long as their work.
    for (const isWarm of isDrawing ? [false] : [false, true]) {
      await onDatabase(database.url, `DELETE FROM check_result`);
      const stop = draw(isDrawing ? others : []);
      await pause(1_000);
      timesOf();
      const began = used(worker);
      const begin = performance.now();
      await maren.ask('POST', `labs/${lab}/checks`);
      for (;;) {
        await pause(200);
        const { waiting, running, failed } = await maren.ask('GET', `labs/${lab}/checks`);
        if (failed.length) throw new Error(failed[0].sentence);
        if (!waiting && !running) break;
      }
      const seconds = (performance.now() - begin) / 1000;
      if (isWarm) took.push(seconds);
      await stop();
      const busy = timesOf();
      const [{ count }] = await onDatabase(database.url, 'SELECT count(*)::int FROM check_result');
      broken += Number(count < STUDENTS);
      console.log(
        `\nChecking all with ${threads} ${threads === 1 ? 'thread' : 'threads'}${isDrawing ? ` while ${DRAWING} draw` : isWarm ? ', once more' : ''}: ${seconds.toFixed(1)} s from the click to the last of ${count} results`,
      );
      if (isDrawing)
        console.log(`  drawing: ${figures(busy)}; when nothing is checked p95 is ${p95(idle).toFixed(0)} ms`);
      console.log(`  the worker: ${memory(worker)}, ${(used(worker) - began).toFixed(1)} s of processor time`);
    }
    await end(worker);
  }
  // Two persons decide the same of each submission at once, each at a server of their own.
  const otherPort = await freePort();
  const other = await start('main.js', { ...env, PORT: String(otherPort), SOBRIN_ROLE: 'web' });
  const deciding = [];
  const persons = [base, `http://127.0.0.1:${otherPort}`].map((each) =>
    Object.assign(new Person(each, deciding), { cookie: maren.cookie }),
  );
  const handedIn = (await maren.ask('GET', `labs/${lab}/submissions`)).filter(({ submissionId }) => submissionId);
  const { requirements } = await maren.ask('GET', `labs/${lab}/results`);
  const { id: requirement, of: most } = requirements.find(({ of }) => of > 0);
  const decisionsBegan = performance.now();
  let refused = 0;
  await Promise.all(
    handedIn.flatMap(({ submissionId }) =>
      persons.map((person, at) => {
        const decision = { requirement, item: null, isMet: null, points: at ? 0 : most, reason: `Person ${at}` };
        return person.ask('POST', `submissions/${submissionId}/decisions`, decision).catch(() => refused++);
      }),
    ),
  );
  const decisionsTook = (performance.now() - decisionsBegan) / 1000;
  const [{ made, holding }] = await onDatabase(
    database.url,
    `SELECT count(*)::int AS made, count(*) FILTER (WHERE ended_at IS NULL)::int AS holding FROM decision`,
  );
  // What tables tell is what the last decision says.
  const [{ wrong }] = await onDatabase(
    database.url,
    `SELECT count(*)::int AS wrong FROM decision JOIN (
        SELECT DISTINCT ON (submission_id) submission_id, cells FROM check_result ORDER BY submission_id, made_at DESC
      ) newest USING (submission_id), jsonb_array_elements(cells) cell
      WHERE ended_at IS NULL AND cell ->> 'id' = requirement AND (cell ->> 'points')::float <> decision.points`,
  );
  const proposalsBegan = performance.now();
  const whose = new Map();
  for (const { submissionId } of handedIn) {
    const { result } = await maren.ask('GET', `submissions/${submissionId}`);
    for (const { id, items } of result.requirements)
      for (const { met, proposed, code } of items)
        if (met === null && proposed !== undefined) {
          const key = JSON.stringify([id, code]);
          whose.set(key, (whose.get(key) ?? new Set()).add(submissionId));
        }
  }
  const read = (performance.now() - proposalsBegan) / 1000;
  const [alike, theirs] = [...whose].sort(([, a], [, b]) => b.size - a.size)[0] ?? [null, new Set()];
  const acceptingBegan = performance.now();
  const accepted = alike
    ? await Promise.all(
        persons.map((person) => {
          const [id, code] = JSON.parse(alike);
          return person.ask('POST', `labs/${lab}/proposals`, { requirement: id, code });
        }),
      )
    : [];
  const acceptingTook = (performance.now() - acceptingBegan) / 1000;
  const decidedAll = accepted.reduce((sum, { decided }) => sum + decided, 0);
  const missed = 2 * handedIn.length - made - refused;
  broken += refused + missed + wrong + Math.abs(handedIn.length - holding) + Math.abs(theirs.size - decidedAll);
  console.log(
    `\n${handedIn.length} submissions decided by two persons at two servers in ${decisionsTook.toFixed(1)} s: ${figures(deciding)}; ${refused} errors, ${missed} lost, ${made} on record, ${holding} hold, ${wrong} marks wrong`,
  );
  console.log(
    `  what ${theirs.size} have alike decided at once by both in ${acceptingTook.toFixed(1)} s: ${decidedAll} decided; all read one by one in ${read.toFixed(1)} s`,
  );
  const ids = handedIn.map(({ submissionId }) => submissionId);
  await commentAll(persons, ids, database.url);
  const worker = await start('worker.js', { ...env, SOBRIN_THREADS: '2' });
  await diagnoseAll(persons, lab, ids, database.url);
  await end(worker);
  const asking = (await maren.ask('GET', 'courses'))[0].labs.find(({ title }) => title === 'Winch Isolation').id;
  for (const asked of [SELF_CHECKS, HINTS])
    await askAll(
      others.map(({ person }) => person),
      asking,
      database.url,
      asked,
    );
  await end(other);

  if (took.length) console.log(`\nTwo threads are ${(took[0] / took[1]).toFixed(2)} times as quick as one.`);
  const pages = {
    home: 'courses',
    class: `labs/${lab}/submissions`,
    results: `labs/${lab}/results`,
    lab: `labs/${lab}`,
    CSV: `labs/${lab}/results.csv`,
  };
  if (mode !== 'short') console.log(`\nAnswers of pages with ${STUDENTS} submissions`);
  for (const [name, place] of mode === 'short' ? [] : Object.entries(pages)) {
    const times = [];
    for (let round = 0; round < 10; round++) {
      const begin = performance.now();
      await (await fetch(`${base}/api/${place}`, { headers: { cookie: maren.cookie } })).text();
      times.push(performance.now() - begin);
    }
    console.log(
      `  ${name.padEnd(8)} ${quantile(
        times.sort((a, b) => a - b),
        0.5,
      ).toFixed(0)} ms`,
    );
  }
  await end(server);
  database.stop();
} finally {
  for (const child of processes) child.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
}
process.exit(broken ? 1 : 0);
