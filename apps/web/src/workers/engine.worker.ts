import { type Edit } from '@sobrin/core/changes';
import { type NetworkModel, AnalysisSession } from '@sobrin/core/engine';
import { emptyTopology } from '@sobrin/core/topology';
import { type Equipment, type RequestKind, type EngineRequests, ANSWERS } from './engine-requests';

/** A question about the drawing as it is after some edits: only these cross over, the worker holds the rest. */
export interface Question {
  readonly turn: number;
  /** How many times the drawing has changed; the worker must have seen every change before. */
  readonly revision: number;
  readonly edits: readonly Edit[];
  readonly options: Equipment;
  readonly kind: RequestKind;
  readonly asked: EngineRequests[RequestKind]['asked'];
}
export interface EngineAnswer {
  readonly turn: number;
  readonly kind: RequestKind;
  readonly answer: EngineRequests[RequestKind]['answer'];
  /** Why there is no answer. */
  readonly failed?: string;
}

/** The drawing as the page has it, with what was worked out of it, and what its equipment is like. */
let session = AnalysisSession.open(emptyTopology());
let revision = 0;
let equipment = '{}';

function answerTo({ edits, revision: asked, options, kind, asked: what }: Question): EngineAnswer['answer'] {
  if (edits.length) {
    if (asked !== revision + 1) throw new Error(`Revision ${asked} came after ${revision}.`);
    session.apply({ kind: 'edits', edits: [...edits] });
    revision = asked;
  }
  if (equipment !== JSON.stringify(options)) {
    session = AnalysisSession.open(session.topology, options);
    equipment = JSON.stringify(options);
  }
  // The page takes changes back by edits of its own: here the drawing as it is now is the new ground.
  session = session.fork();
  return (ANSWERS[kind] as (model: NetworkModel, asked: unknown) => EngineAnswer['answer'])(session.model, what);
}

self.onmessage = ({ data }: MessageEvent<Question>) => {
  const { turn, kind } = data;
  let answer: EngineAnswer;
  try {
    answer = { turn, kind, answer: answerTo(data) };
  } catch (error) {
    // Nobody must wait for an answer that does not come: the page starts another worker.
    answer = { turn, kind, answer: null, failed: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage(answer);
};
