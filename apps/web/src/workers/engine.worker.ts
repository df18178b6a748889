import { type Edit, type NetworkModel, type Topology, analyse, applyEdits, emptyTopology } from '@sobrin/core';
import { type Equipment, type QuestionKind, type Questions, ANSWERS } from './questions';

/** A question about the drawing as it is after some edits: only these cross over, the worker holds the rest. */
export interface Question {
  readonly turn: number;
  /** How many times the drawing has changed; the worker must have seen every change before. */
  readonly revision: number;
  readonly edits: readonly Edit[];
  readonly options: Equipment;
  readonly kind: QuestionKind;
  readonly asked: Questions[QuestionKind]['asked'];
}
export interface EngineAnswer {
  readonly turn: number;
  readonly kind: QuestionKind;
  readonly told: Questions[QuestionKind]['told'];
}

/** The drawing as the page has it, and what was worked out of it. */
let replica: Topology = emptyTopology();
let revision = 0;
let known: { model: NetworkModel; key: string } | null = null;

self.onmessage = ({ data }: MessageEvent<Question>) => {
  if (data.edits.length) {
    if (data.revision !== revision + 1) throw new Error(`Revision ${data.revision} came after ${revision}.`);
    replica = applyEdits(replica, data.edits).document;
    revision = data.revision;
    known = null;
  }
  const key = JSON.stringify(data.options);
  if (known?.key !== key) known = { model: analyse(replica, data.options), key };
  const answer = ANSWERS[data.kind] as (model: NetworkModel, asked: unknown) => EngineAnswer['told'];
  self.postMessage({ turn: data.turn, kind: data.kind, told: answer(known.model, data.asked) } satisfies EngineAnswer);
};
