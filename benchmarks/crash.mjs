// npm run crash -- ROUNDS: kills web server, worker, database or npm start itself at random with signal 9 while people
// save, hand in, check, decide, comment and look for mistakes, and counts what was lost or doubled of what had been confirmed. A stand-in for a unit file's
// supervisor starts npm start again. On loopback, with data of its own.
import { spawn } from 'node:child_process';
import { randomInt, randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freePort, onDatabase, postmasterOf } from '../scripts/lib/postgres.mjs';
import { root } from '../scripts/lib/root.mjs';

const rounds = Number(process.argv[2] ?? 5);
if (!Number.isInteger(rounds) || rounds < 1 || rounds > 1000) {
  console.error('Wanted is: npm run crash -- ROUNDS, a number from 1 to 1000.');
  process.exit(1);
}
const TITLE = 'Valley Station LAN';
const home = mkdtempSync(path.join(tmpdir(), 'sobrin-crash-'));
chmodSync(home, 0o755);
const port = await freePort();
const base = `http://127.0.0.1:${port}`;
let main = null;
let isOver = false;

// Cut short, it leaves no Sobrin behind.
process.once('SIGTERM', () => {
  isOver = true;
  main?.kill('SIGTERM');
  process.exit(143);
});

/** What a unit file does: started again whenever it ends. */
function supervise() {
  main = spawn(process.execPath, [path.join(root, 'scripts/start.mjs')], {
    stdio: 'ignore',
    env: { ...process.env, SOBRIN_DATA: home, PORT: String(port) },
  });
  main.once('exit', () => isOver || setTimeout(supervise, 1_000));
}

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
async function answers(withinMs) {
  const until = Date.now() + withinMs;
  while (Date.now() < until) {
    const isThere = await fetch(`${base}/api/auth/demo`, { signal: AbortSignal.timeout(2_000) }).then(
      ({ ok }) => ok,
      () => false,
    );
    if (isThere) return true;
    await pause(100);
  }
  return false;
}
async function ask(cookie, method, place, body) {
  const response = await fetch(`${base}/api/${place}`, {
    method,
    headers: { 'content-type': 'application/json', 'x-sobrin-request': '1', cookie },
    body: body && JSON.stringify(body),
    signal: AbortSignal.timeout(20_000),
  });
  const text = await response.text();
  if (!response.ok)
    throw Object.assign(new Error(`${response.status} ${text.slice(0, 200)}`), { status: response.status });
  return {
    body: text ? JSON.parse(text) : null,
    cookie: response.headers
      .getSetCookie()
      .map((set) => set.split(';')[0])
      .join('; '),
  };
}
/** Asks until there is an answer, as the interface does: with the same ids each time. */
async function insist(...request) {
  for (;;) {
    try {
      return (await ask(...request)).body;
    } catch (error) {
      if (error.status && error.status < 500 && error.status !== 401) throw error;
      if (isOver) return null;
      await pause(200);
    }
  }
}

const processOf = (file) => {
  const children = readFileSync(`/proc/${main.pid}/task/${main.pid}/children`, 'utf8')
    .trim()
    .split(' ')
    .filter(Boolean);
  return children.map(Number).find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(file));
};
const VICTIMS = {
  web: () => processOf('dist/main.js'),
  worker: () => processOf('dist/worker.js'),
  database: () => postmasterOf(home),
  'npm start': () => main.pid,
};

const database = () => {
  const lines = readFileSync(path.join(home, 'pg', 'postmaster.pid'), 'utf8').split('\n');
  return `postgresql://sobrin:${readFileSync(path.join(home, 'pg.secret'), 'utf8').trim()}@127.0.0.1:${lines[3]}/postgres`;
};

try {
  supervise();
  if (!(await answers(300_000))) throw new Error('Sobrin did not start.');
  const people = await Promise.all(
    ['zofia.wrona', 'tobias.ferreira', 'ilse.haverkamp', 'eero.lahtinen'].map(async (login) => {
      const { cookie } = await ask('', 'POST', 'auth/demo-sign-in', { login });
      const { body: courses } = await ask(cookie, 'GET', 'courses');
      const lab = courses[0].labs.find(({ title }) => title === TITLE).id;
      const { body } = await ask(cookie, 'GET', `my/labs/${lab}`);
      return { cookie, lab, document: body.documentId, saved: 0, base: 0, handedIn: [] };
    }),
  );
  const { cookie: maren } = await ask('', 'POST', 'auth/demo-sign-in', { login: 'maren' });
  let wantsMore = true;
  const working = people.map(async (person) => {
    person.base = (await insist(person.cookie, 'GET', `documents/${person.document}`)).revision;
    while (wantsMore) {
      const commands = [{ kind: 'setDocument', set: { legend: `save ${person.saved + 1}` } }];
      const done = await insist(person.cookie, 'POST', `documents/${person.document}/changes`, {
        save: randomUUID(),
        base: person.base,
        commands,
      });
      if (!done) break;
      person.base = done.revision;
      person.saved++;
      if (person.saved % (rounds < 5 ? 5 : 25) === 0) {
        const handIn = randomUUID();
        try {
          if (await insist(person.cookie, 'POST', `my/labs/${person.lab}/hand-in`, { handIn }))
            person.handedIn.push(handIn);
          await insist(maren, 'POST', `labs/${person.lab}/checks`);
        } catch (error) {
          if (error.status !== 409) throw error; // all attempts are used
        }
      }
      await pause(20);
    }
  });
  // Meanwhile somebody decides the points of a requirement, and who plays a role, again and again.
  const decided = { comments: [], reasons: [], pins: 0, submission: null, requirement: null, points: null, pin: null };
  working.push(
    (async () => {
      const { lab } = people[0];
      while (wantsMore && !decided.submission) {
        const rows = await insist(maren, 'GET', `labs/${lab}/submissions`);
        decided.submission = rows?.find(({ points }) => points !== null)?.submissionId ?? null;
        await pause(100);
      }
      const seen = await insist(maren, 'GET', `submissions/${decided.submission}`);
      const { id: requirement, of: most } = seen.result.requirements.find(({ of }) => of > 0);
      const alike = seen.result.matching.filter(({ device }) => device !== null);
      decided.requirement = requirement;
      while (wantsMore) {
        const points = decided.reasons.length % 2 ? most : 0;
        const reason = `decision ${decided.reasons.length + 1}`;
        const request = { requirement, item: null, isMet: null, points, reason };
        if (!(await insist(maren, 'POST', `submissions/${decided.submission}/decisions`, request))) break;
        decided.reasons.push(reason);
        decided.points = points;
        const { role } = alike[decided.reasons.length % alike.length];
        const { device } = alike[(decided.reasons.length + 1) % alike.length];
        if (!(await insist(maren, 'PUT', `submissions/${decided.submission}/pins`, { role, device }))) break;
        decided.pin = { role, device };
        decided.pins++;
        // And says so, has the mistakes behind all results looked for, and asks for those of this one.
        const comment = { id: randomUUID(), kind: 'work', target: '', text: reason };
        if (decided.comments.length < 50) {
          if (!(await insist(maren, 'POST', `submissions/${decided.submission}/comments`, comment))) break;
          decided.comments.push(comment.id);
        }
        if (!(await insist(maren, 'POST', `labs/${lab}/causes`))) break;
        if (!(await insist(maren, 'GET', `submissions/${decided.submission}/diagnosis`))) break;
        await pause(200);
      }
    })(),
  );
  // However slow the machine is: a process is killed while everybody is in the middle of it, and again works before the next.
  const everybody = async (isThere) => {
    while (!people.every(isThere)) await pause(50);
  };
  const waits = [];
  await everybody(({ handedIn }) => handedIn.length);
  while (!decided.pins) await pause(50);
  for (let round = 1; round <= rounds; round++) {
    await pause(500 + randomInt(2_500));
    const names = Object.keys(VICTIMS);
    const victim = names[randomInt(names.length)];
    const pid = VICTIMS[victim]();
    if (!pid) continue;
    process.kill(pid, 'SIGKILL');
    const began = performance.now();
    await pause(300);
    const isBack = await answers(120_000);
    waits.push((performance.now() - began) / 1000);
    console.log(
      `Round ${round}: ${victim} was killed; ${isBack ? `answered again after ${waits.at(-1).toFixed(1)} s` : 'NOT BACK after 120 s'}`,
    );
    if (!isBack) throw new Error('Sobrin did not come back.');
    const before = new Map(people.map((person) => [person, person.saved]));
    const pinnedBefore = decided.pins;
    await everybody((person) => person.saved > before.get(person));
    while (decided.pins === pinnedBefore) await pause(50);
  }
  wantsMore = false;
  await Promise.all(working);
  const quiet = async (what) => {
    for (;;) {
      const { waiting, running } = await insist(maren, 'GET', `labs/${people[0].lab}/${what}`);
      if (!waiting && !running) break;
      await pause(300);
    }
  };
  await quiet('checks');
  await insist(maren, 'POST', `labs/${people[0].lab}/causes`);
  await quiet('causes');
  const url = database();
  let [lost, doubled] = [0, 0];
  for (const { document, base: revision, saved, handedIn } of people) {
    const [row] = await onDatabase(
      url,
      `SELECT revision, content ->> 'legend' AS legend FROM document WHERE id = '${document}'`,
    );
    const changes = await onDatabase(
      url,
      `SELECT count(*)::int AS count FROM document_change WHERE document_id = '${document}'`,
    );
    if (row.revision < revision || row.legend !== `save ${saved}`) lost++;
    if (changes[0].count !== row.revision) doubled++;
    for (const id of handedIn)
      if (!(await onDatabase(url, `SELECT 1 FROM submission WHERE id = '${id}'`)).length) lost++;
  }
  const [results] = await onDatabase(
    url,
    `SELECT count(*)::int AS count, count(DISTINCT (submission_id, inputs))::int AS once FROM check_result`,
  );
  doubled += results.count - results.once;
  const decisions = await onDatabase(url, 'SELECT reason, points, ended_at FROM decision ORDER BY at');
  const made = new Set(decisions.map(({ reason }) => reason));
  lost += decided.reasons.filter((reason) => !made.has(reason)).length;
  const holding = decisions.filter(({ ended_at }) => ended_at === null);
  doubled += holding.length - 1;
  if (holding[0]?.points !== decided.points) lost++;
  const pinned = await onDatabase(url, 'SELECT role, device FROM pin');
  if (decided.pin && !pinned.some(({ role, device }) => role === decided.pin.role && device === decided.pin.device))
    lost++;
  // What tables and pages tell is judged with the last pins, and has the last decision.
  const { result } = await insist(maren, 'GET', `submissions/${decided.submission}`);
  for (const { role, device } of pinned)
    if (result.matching.find((each) => each.role === role)?.device !== device) lost++;
  const rows = await insist(maren, 'GET', `labs/${people[0].lab}/submissions`);
  if (rows.find(({ submissionId }) => submissionId === decided.submission)?.points !== result.points) lost++;
  if (result.requirements.find(({ id }) => id === decided.requirement).points !== decided.points) lost++;
  const comments = await onDatabase(url, 'SELECT id FROM submission_comment');
  lost += decided.comments.filter((id) => !comments.some((each) => each.id === id)).length;
  doubled += comments.length - decided.comments.length;
  // The mistakes behind each result that counts are known, once.
  const causes = await insist(maren, 'GET', `labs/${people[0].lab}/causes`);
  lost += causes.open + causes.failed.length;
  const total = people.reduce((sum, { saved }) => sum + saved, 0);
  const handIns = people.reduce((sum, { handedIn }) => sum + handedIn.length, 0);
  console.log(
    `${total} saves, ${handIns} hand-ins, ${decided.reasons.length} decisions, ${decided.pins} pins, ${decided.comments.length} comments, ${results.count} results and the mistakes behind ${causes.looked} of them were confirmed: ${lost} lost, ${doubled} doubled. Longest wait for an answer ${Math.max(0, ...waits).toFixed(1)} s.`,
  );
  process.exitCode = lost || doubled ? 1 : 0;
} finally {
  isOver = true;
  if (main?.exitCode === null && main.signalCode === null) {
    const gone = new Promise((resolve) => main.once('exit', resolve));
    main.kill('SIGTERM');
    await gone;
  }
  rmSync(home, { recursive: true, force: true });
}
process.exit();
