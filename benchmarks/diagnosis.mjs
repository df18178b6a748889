// How often the mistake that was planted, or a repair as good, is the first cause of a diagnosis, and how many of two and
// three planted at once are found: over the demo labs that have a reference and over seeded networks with drafted specs.
// Seeded; times are of this run, with the ratio to analysing and judging each tried drawing from nothing.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { builtCore, root } from '../scripts/lib/root.mjs';
import { seededReference } from './references.mjs';

const LABS = ['valley-lan', 'winch-isolation', 'summit-dual-stack', 'three-stations'];
const SIZES = Array.from({ length: 12 }, (_, at) => 15 + Math.round((at * 45) / 11));
const PAIRS = 4;
/** Mistakes of one value that somebody makes at all members of a group alike. */
const VALUES = ['wrongPrefixLength', 'gatewayMissing', 'gatewayOutsideSubnet', 'accessVlan'];

/** A lab of a seeded network whose spec is drafted: all that the draft ticks. */
function draftedLab(core, size, random) {
  const bare = {
    reference: seededReference(core, size, random),
    spec: { groups: {}, sections: [] },
    policy: {},
    brief: { groups: [] },
    plan: core.emptyPlan(),
    tasks: [],
  };
  const draft = core.draftOf(bare);
  const chosen = draft.proposals.filter(({ leftOut }) => leftOut === undefined || leftOut.includes('nowhere'));
  return { ...bare, title: `${size} devices`, spec: core.withProposals(bare.spec, draft, chosen) };
}

/** The faults of a lab that cost points: one of each operator, and values that are wrong at all of a group. */
function faultsOf(core, lab, prepared, whole, random) {
  const pick = (list) => list[Math.floor(random() * list.length)];
  const costs = (commands) => {
    const done = core.applyBatch(lab.reference, 'fault', commands);
    if (!done.ok) return null;
    const result = core.judge(prepared, { drawing: done.value.document, plan: lab.plan });
    return result.points < whole.points ? { drawing: done.value.document, result } : null;
  };
  const single = core.DRAWING_FAULTS.flatMap((operator) => {
    const all = [...operator.faultsIn(lab.reference)];
    for (let tries = 0; tries < 3 && all.length; tries++) {
      const fault = pick(all);
      const made = costs(fault.commands);
      if (made) return [{ kind: operator.kind, text: fault.text, commands: fault.commands, ...made }];
    }
    return [];
  });
  const grouped = core.DRAWING_FAULTS.filter(({ kind }) => VALUES.includes(kind)).flatMap((operator) => {
    const bySort = new Map();
    for (const fault of operator.faultsIn(lab.reference)) {
      const [device, member] = (fault.at.device ?? '').split('/');
      const peers =
        operator.kind === 'accessVlan' ? fault.text.match(/instead of \d+/)[0] : subnetOf(core, lab, device, member);
      // What is wrong in the same way: an address outside of its subnet is another one at each.
      const how = fault.text.match(/prefix length \d+/)?.[0] ?? fault.text.match(/IPv\d/)?.[0] ?? '';
      bySort.set(`${peers} ${how}`, [...(bySort.get(`${peers} ${how}`) ?? []), fault]);
    }
    const groups = [...bySort.values()].filter((list) => list.length > 1);
    const group = groups.length ? pick(groups) : null;
    const made = group && costs(group.flatMap(({ commands }) => commands));
    return made ? [{ kind: operator.kind, text: group[0].text, commands: [], ...made }] : [];
  });
  return { single, grouped };
}

/** The subnet in which a host of a reference is. */
function subnetOf(core, { reference }, id, member) {
  const device = reference.devices[id];
  const interfaces = { ...device?.interfaces, ...(member && device.members[member].interfaces) };
  const text = Object.values(interfaces).flatMap(({ v4 }) => v4?.addresses ?? [])[0];
  const read = text && core.parseInterfaceAddress(text);
  return read?.ok ? core.formatPrefix(core.subnetOf(read.value)) : '';
}

const repaired = (core, drawing, causes) => {
  const done = core.applyBatch(
    drawing,
    'repair',
    causes.flatMap(({ repair }) => repair.commands),
  );
  return done.ok ? done.value.document : null;
};

/** Whether a drawing earns what the reference does and everybody there reaches whom they reached. */
function isAsGood(core, lab, prepared, whole, drawing) {
  if (!drawing) return false;
  const { points } = core.judge(prepared, { drawing, plan: lab.plan });
  if (points < whole.points) return false;
  const [asked, found] = [prepared.reference, core.analyse(drawing, prepared.reference.options)];
  const probes = core.probesOf(asked);
  // Which of a device and its copy goes is all the same.
  return core.reachDigest(asked, probes) === core.reachDigest(found, probes).replaceAll('-copy', '');
}

export function benchDiagnosis(say, { verbose = false } = {}) {
  const core = builtCore('address', 'topology', 'engine', 'plan', 'faults', 'spec');
  const random = core.seeded(22);
  const demo = LABS.map((slug) => JSON.parse(readFileSync(path.join(root, 'demo', slug, 'lab.json'), 'utf8')));
  const seededLabs = SIZES.map((size) => draftedLab(core, size, random));
  const varied = (topology) =>
    [core.renamed, core.readdressed, core.moved].reduce((now, change) => change(now, random), core.unvaried(topology));
  const count = { varied: [0, 0], single: [0, 0], grouped: [0, 0], two: [0, 0], three: [0, 0] };
  const times = { single: [], two: [], three: [] };
  const ratios = [];
  let [runs, incomplete] = [0, 0];
  for (const lab of [...demo, ...seededLabs]) {
    const prepared = core.prepareLab(lab);
    const whole = core.judge(prepared, { drawing: lab.reference, plan: lab.plan });
    const { single, grouped } = faultsOf(core, lab, prepared, whole, random);
    const diagnosed = (drawing, result, kind) => {
      const start = process.hrtime.bigint();
      const diagnosis = core.diagnose(prepared, { drawing, plan: lab.plan }, result);
      const taken = Number(process.hrtime.bigint() - start) / 1e6;
      times[kind]?.push(taken);
      runs += diagnosis.runs;
      incomplete += diagnosis.complete ? 0 : 1;
      return { ...diagnosis, taken };
    };
    const note = (text) => verbose && say(`      ${lab.title}: ${text}`);
    for (const [sort, list] of [
      ['single', single],
      ['grouped', grouped],
    ])
      for (const fault of list) {
        const { causes, runs: tried, taken } = diagnosed(fault.drawing, fault.result, sort);
        const good = isAsGood(core, lab, prepared, whole, repaired(core, fault.drawing, causes.slice(0, 1)));
        count[sort][0] += good ? 1 : 0;
        count[sort][1]++;
        if (!good)
          note(`${sort} ${fault.kind}: ${fault.text} → ${causes.map(({ text }) => text).join(' / ') || 'nothing'}`);
        if (sort === 'single' && tried > 3 && ratios.length < 60) {
          const start = process.hrtime.bigint();
          core.judge(core.prepareLab(lab), { drawing: fault.drawing, plan: lab.plan });
          ratios.push((tried * Number(process.hrtime.bigint() - start)) / 1e6 / taken);
        }
      }
    // The same mistakes as somebody makes them who draws with names, numbers and places of their own.
    for (const operator of core.DRAWING_FAULTS) {
      const { topology } = varied(lab.reference);
      const faults = [...operator.faultsIn(topology)];
      if (!faults.length) continue;
      const done = core.applyBatch(topology, 'fault', faults[Math.floor(random() * faults.length)].commands);
      if (!done.ok) continue;
      const before = core.judge(prepared, { drawing: topology, plan: lab.plan });
      const result = core.judge(prepared, { drawing: done.value.document, plan: lab.plan });
      if (result.points >= before.points) continue;
      const { causes } = diagnosed(done.value.document, result, 'single');
      const mended = repaired(core, done.value.document, causes);
      const good = mended !== null && core.judge(prepared, { drawing: mended, plan: lab.plan }).points >= before.points;
      count.varied[0] += good ? 1 : 0;
      count.varied[1]++;
      if (!good) note(`varied ${operator.kind}: ${causes.map(({ text }) => text).join(' / ') || 'nothing'}`);
    }
    for (const [sort, n] of [
      ['two', 2],
      ['three', 3],
    ])
      for (let at = 0; at < PAIRS && single.length >= n; at++) {
        const faults = [...single].sort(() => random() - 0.5).slice(0, n);
        const done = core.applyBatch(
          lab.reference,
          'faults',
          faults.flatMap(({ commands }) => commands),
        );
        if (!done.ok) continue;
        const drawing = done.value.document;
        const result = core.judge(prepared, { drawing, plan: lab.plan });
        if (result.points >= whole.points) continue;
        const { causes } = diagnosed(drawing, result, sort);
        const mended = repaired(core, drawing, causes);
        // What is found of several: as many as need not be undone any more.
        const isWhole =
          mended !== null && core.judge(prepared, { drawing: mended, plan: lab.plan }).points >= whole.points;
        const found = isWhole ? n : foundOf(core, lab, prepared, mended, faults);
        const good = found >= Math.min(n, 2);
        count[sort][0] += good ? 1 : 0;
        count[sort][1]++;
        if (!good)
          note(
            `${sort}: ${faults.map(({ text }) => text).join(' + ')} → ${causes.map(({ text }) => text).join(' / ') || 'nothing'}`,
          );
      }
  }
  const share = ([good, all]) => `${good} of ${all} (${((100 * good) / Math.max(1, all)).toFixed(1)} %)`;
  const worst = (list) => Math.max(0, ...list).toFixed(0);
  say(`  Diagnosis over ${LABS.length} demo labs and ${SIZES.length} seeded networks of 15 to 60 devices`);
  say(`    one fault, the first cause is it or as good: ${share(count.single)} (95 % wanted)`);
  say(`    one value at all of a group, likewise: ${share(count.grouped)}`);
  say(`    one fault in a drawing with other names, numbers and places: ${share(count.varied)}`);
  say(`    two faults, both found: ${share(count.two)} (85 % wanted)`);
  say(`    three faults, two of them found: ${share(count.three)} (90 % wanted)`);
  say(
    `    slowest: one fault ${worst(times.single)} ms (2,000 wanted), two ${worst(times.two)} ms (10,000 wanted), three ${worst(times.three)} ms; ${runs} drawings tried, ${incomplete} searches cut off by their bound`,
  );
  const middle = [...ratios].sort((a, b) => a - b)[ratios.length >> 1] ?? 0;
  say(`    from nothing each time it would take ${middle.toFixed(1)} times as long (median)`);
}

/** How many of the faults are mended in a drawing: those whose own requirements hold again. */
function foundOf(core, lab, prepared, mended, faults) {
  if (!mended) return 0;
  const now = core.judge(prepared, { drawing: mended, plan: lab.plan });
  const points = new Map(now.requirements.map(({ id, points }) => [id, points]));
  return faults.filter(({ result }) => {
    const lost = result.requirements.filter(({ points, of, deduction }) => !deduction && points < of);
    return lost.some(({ id, of }) => points.get(id) >= of);
  }).length;
}
