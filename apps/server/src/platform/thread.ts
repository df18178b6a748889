import { type Scheme } from '@sobrin/core/drawing';
import { readLabText, readSubmissionText, writeSvg } from '@sobrin/core/formats';
import { type Plan } from '@sobrin/core/plan';
import { type MadeResult, cellsOf } from '../checks/check.entity';
import {
  type DiagnosisProgress,
  type JudgingLab,
  type Pins,
  type PreparedLab,
  type Submitted,
  diagnose,
  hintsToAsk,
  judge,
  judgeByRequirements,
  prepareLab,
} from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { type MessagePort } from 'node:worker_threads';
import { pdfOf, pngOf } from '@sobrin/rendering';
import { raised } from '../documents/formats';
import { type StoredVersion, versionOf } from '../documents/stored-version';

// What is done beside the thread that answers everybody. Each function is a task by its name: see threads.service.ts.

export interface PictureWish {
  readonly format: keyof typeof PAINTERS;
  /** In pixels, where the format has some. */
  readonly width: number;
  readonly scheme: Scheme;
  /** What stands on a paper as its date: YYYY-MM-DD. */
  readonly date: string;
}

const PAINTERS = {
  svg: (topology: Topology, { scheme }: PictureWish) => Buffer.from(writeSvg(topology, { scheme })),
  png: (topology: Topology, { width, scheme }: PictureWish) => pngOf(topology, { width, scheme }),
  pdf: async (topology: Topology, { date }: PictureWish) =>
    (await pdfOf(topology, { size: 'A4', schedules: true, date })).pdf,
};

/** Paints a drawing as it was stored at a revision. */
export const paint = async ({ stored, wish }: { stored: StoredVersion; wish: PictureWish }): Promise<Uint8Array> =>
  PAINTERS[wish.format](versionOf(stored) as Topology, wish);

/** Reads what a student uploads. */
export const readSubmission = (text: string) => readSubmissionText(text);

/** Reads a lab file. */
export const readLab = (text: string) => readLabText(text);

/** What was worked out of the lab that judged last: a class is judged by one. */
let last: { version: string; lab: PreparedLab } | null = null;

/** A version of a lab and what was handed in, as texts of JSON: they are read here, not by whoever answers. */
export interface CheckWish {
  readonly version: string;
  readonly lab: string;
  readonly topology: string;
  readonly plan: string | null;
  readonly answers: string;
  /** The versions of the formats of drawing and plan. */
  readonly formats: { topology: number; plan: number };
  readonly pins: Pins;
}

function prepared({ version, lab }: Pick<CheckWish, 'version' | 'lab'>): PreparedLab {
  if (last?.version !== version) last = { version, lab: prepareLab(JSON.parse(lab) as JudgingLab) };
  return last.lab;
}

/** A wish as it is read: the lab, and what was handed in. */
function read({ topology, plan, answers, formats, ...wish }: CheckWish): { lab: PreparedLab; handed: Submitted } {
  return {
    lab: prepared(wish),
    handed: {
      drawing: raised('topology', formats.topology, JSON.parse(topology) as object) as Topology,
      ...(plan !== null && { plan: raised('plan', formats.plan, JSON.parse(plan) as object) as Plan }),
      answers: JSON.parse(answers) as Record<string, string>,
    },
  };
}

/** So often it is told how far a search is. */
const TOLD_EVERY_MS = 200;

/** Looks for the mistakes behind what a version of a lab says of it; as a text of JSON. Tells at a port how far it is. */
export function diagnosis({ port, ...wish }: CheckWish & { readonly port?: MessagePort }): string {
  const { lab, handed } = read(wish);
  let told = 0;
  const onProgress = (progress: DiagnosisProgress): void => {
    if (!port || Date.now() - told < TOLD_EVERY_MS) return;
    told = Date.now();
    port.postMessage(progress);
  };
  return JSON.stringify(diagnose(lab, handed, judgeByRequirements(lab, handed, wish.pins), { onProgress }));
}

/** The hints of a requirement, as students read them. */
export function hints({
  version,
  lab,
  requirement,
}: Pick<CheckWish, 'version' | 'lab'> & { requirement: string }): string[] {
  return hintsToAsk(prepared({ version, lab }), requirement);
}

/** Judges what was handed in by a version of a lab. */
export function check(wish: CheckWish): MadeResult {
  const { lab, handed } = read(wish);
  const result = judge(lab, handed, wish.pins);
  return {
    text: JSON.stringify(result),
    coreVersion: result.coreVersion,
    submissionHash: result.submissionHash,
    points: result.points,
    of: result.of,
    cells: cellsOf(result),
  };
}
