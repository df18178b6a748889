// npm run check:kernel -- [DIR]: compares the engine with networks whose answers were measured in a Linux kernel.
// Exit status 0 where every judged answer agrees, is a matter of chance, or is listed in otherwise.json with the clause
// of a standard, 1 where one does not, 2 where the folder cannot be read.
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { buildPackages } from './lib/build.mjs';
import { root, require } from './lib/root.mjs';
import { ensureDependencies } from './lib/system.mjs';

const dir = path.resolve(process.argv[2] ?? path.join(root, 'fixtures', 'kernel-cases'));
await ensureDependencies();
await buildPackages(['packages/core']);
const { EVIDENCE, compareCase, isByChance } = require(path.join(root, 'packages/core/dist/formats/index.js'));

let names;
try {
  names = readdirSync(dir)
    .filter((name) => name.endsWith('.json') && name !== 'otherwise.json')
    .sort();
} catch (error) {
  console.error(`check:kernel: ${dir} cannot be read (${error.code}). Name a folder with case files.`);
  process.exit(2);
}
if (!names.length) {
  console.error(`check:kernel: ${dir} holds no .json file.`);
  process.exit(2);
}
// Rows where a standard says otherwise than what was measured, with the clause.
const otherwise = existsSync(path.join(dir, 'otherwise.json'))
  ? JSON.parse(readFileSync(path.join(dir, 'otherwise.json'), 'utf8'))
  : [];
const families = new Map();
const evidence = {};
const clauses = new Map();
let [differs, chance] = [0, 0];
for (const name of names) {
  let file;
  try {
    file = JSON.parse(readFileSync(path.join(dir, name), 'utf8'));
  } catch (error) {
    console.error(`check:kernel: ${name} cannot be read: ${error.message}`);
    process.exit(2);
  }
  if (file.format !== 'oracle-case/1') {
    console.error(
      `check:kernel: ${name} is no case file: its format is ${JSON.stringify(file.format)}, wanted is "oracle-case/1".`,
    );
    process.exit(2);
  }
  let got;
  try {
    got = compareCase(file);
  } catch (error) {
    console.error(`check:kernel: ${name} is no sound case file: ${error.message}`);
    process.exit(2);
  }
  const sum = families.get(file.topology.family) ?? {
    pairs: 0,
    agree: 0,
    tcp: 0,
    tcpAgree: 0,
    udp: 0,
    udpAgree: 0,
    uncertain: 0,
  };
  for (const key of Object.keys(sum)) sum[key] += got[key];
  families.set(file.topology.family, sum);
  for (const kind of EVIDENCE) {
    const { of, agree, differs: others } = got.evidence[kind];
    const all = (evidence[kind] ??= { of: 0, agree: 0, differs: [] });
    all.of += of;
    all.agree += agree;
    all.differs.push(...others.map((other) => `${name}: ${kind}: ${other}`));
  }
  for (const disagreement of got.disagreements) {
    const { from, to, address } = disagreement;
    const listed = otherwise.find(({ file, rows }) => file === name && rows.includes(`${from} ${to} ${address}`));
    if (listed) clauses.set(listed.clause, (clauses.get(listed.clause) ?? 0) + 1);
    else if (isByChance(disagreement)) chance++;
    if (listed || isByChance(disagreement)) continue;
    differs++;
    const port = disagreement.port === null ? '' : ` port ${disagreement.port}`;
    console.log(
      `${name}: ${disagreement.from} -> ${disagreement.to} ${disagreement.address}${port}: measured ${disagreement.measured}, ours ${disagreement.ours} (${disagreement.reason})`,
    );
  }
}
for (const [family, sum] of [...families].sort())
  console.log(
    `${family}: pairs ${sum.pairs} agree ${sum.agree}, tcp ${sum.tcp} agree ${sum.tcpAgree}, udp ${sum.udp} agree ${sum.udpAgree}, uncertain ${sum.uncertain}`,
  );
for (const [clause, count] of clauses) console.log(`${count} otherwise by ${clause}`);
if (chance) console.log(`${chance} uncertain where measuring is a matter of chance`);
for (const kind of EVIDENCE) for (const differ of evidence[kind].differs) console.log(differ);
for (const kind of EVIDENCE) console.log(`evidence, ${kind}: ${evidence[kind].of} agree ${evidence[kind].agree}`);
process.exitCode = differs ? 1 : 0;
