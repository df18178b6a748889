// How long a drill takes, beside the same drawings analysed and judged one by one from nothing; and how much the demo's specs
// notice before and after their drill's proposals.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { builtCore, root } from '../scripts/lib/root.mjs';

const LABS = ['valley-lan', 'winch-isolation', 'summit-dual-stack', 'three-stations'];

const seconds = (run) => {
  const start = process.hrtime.bigint();
  const value = run();
  return { value, taken: Number(process.hrtime.bigint() - start) / 1e9 };
};

export function benchDrill(say) {
  const core = builtCore('topology', 'engine', 'plan', 'faults', 'spec');
  for (const slug of LABS) {
    const lab = JSON.parse(readFileSync(path.join(root, 'demo', slug, 'lab.json'), 'utf8'));
    const { value: found, taken } = seconds(() => core.drill(lab, { failures: false }));
    const { taken: whole } = seconds(() => core.drill(lab));
    const drawings = found.faults.length + found.variations.length;
    // From nothing each: a lab prepared, a drawing analysed and matched, every requirement judged.
    const few = 20;
    const { taken: single } = seconds(() => {
      for (let at = 0; at < few; at++) core.checkSubmission(lab, lab.reference, lab.plan);
    });
    const missed = found.faults.filter(({ outcome }) => outcome === 'missed').length;
    const left = new Set(found.faults.flatMap(({ outcome }, at) => (outcome === 'missed' ? at : [])));
    for (const { notices } of found.proposals) for (const at of notices) left.delete(at);
    const harmful = found.faults.filter(({ outcome }) => outcome !== 'harmless').length;
    const percent = (n) => ((100 * (harmful - n)) / harmful).toFixed(1);
    say(
      `  ${lab.title}: ${found.faults.length} faults and ${found.variations.length} variations in ${taken.toFixed(1)} s, with failures ${whole.toFixed(1)} s; one by one from nothing ${((single / few) * drawings).toFixed(1)} s, ${((single * drawings) / few / taken).toFixed(1)} times as long`,
    );
    say(
      `    noticed ${percent(missed)} %, with all proposals ${percent(left.size)} %; false alarms: ${found.variations.filter(({ requirements }) => requirements.length).length}`,
    );
  }
}
