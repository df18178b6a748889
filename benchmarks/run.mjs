// npm run bench [-- arrange | judging | diagnosis | drill]: how Sobrin's computations grow and how its pages answer, measured now on this machine.
import { buildPackages } from '../scripts/lib/build.mjs';
import { benchArrange } from './arrange.mjs';
import { benchDiagnosis } from './diagnosis.mjs';
import { benchDrill } from './drill.mjs';
import { benchEnginePage } from './engine-page.mjs';
import { benchEngine } from './engine.mjs';
import { benchJudging } from './judging.mjs';
import { benchPlan } from './plan.mjs';
import { benchPlanPage } from './plan-page.mjs';
import { benchScripts } from './scripts.mjs';
import { benchVersions } from './versions.mjs';

const say = (text) => console.log(text);
await buildPackages(['packages/core']);
say('Arranging, beside a layered layout of the same devices');
await benchArrange(say);
if (process.argv[2] === 'arrange') process.exit();
if (process.argv[2] === 'judging') {
  benchJudging(say);
  process.exit();
}
if (process.argv[2] === 'diagnosis') {
  benchDiagnosis(say, { verbose: process.argv[3] === 'all' });
  process.exit();
}
if (process.argv[2] === 'drill') {
  benchDrill(say);
  process.exit();
}
say('\nEngine: routers with OSPF, switches, hosts');
benchEngine(say);
say('\nJudging: who plays which role, and a check');
benchJudging(say);
say('\nDiagnosis: which mistake it was');
benchDiagnosis(say);
say('\nDrill: what the specs of the demo notice');
benchDrill(say);
say('\nEngine in a worker of the browser, begun for it');
await benchEnginePage(say);
say('\nAddress plan, in core');
benchPlan(say);
say('\nPlan page, 500 subnets and 20,000 addresses');
await benchPlanPage(say);
say('\nVersions, 1,000 devices');
await benchVersions(say);
say('\nScript that opening a page loads, compressed');
await benchScripts(say);
