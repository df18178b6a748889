import {
  type Applied,
  type Plan,
  type Problem,
  type Result,
  type Topology,
  Command,
  MAX_PLAN_BYTES,
  MAX_TOPOLOGY_BYTES,
  PlanCommand,
  applyBatch,
  applyPlanCommands,
  meetingWords,
  readPlan,
  readTopology,
} from '@sobrin/core';

export type Document = Topology | Plan;
export type DocumentKindName = 'topology' | 'plan';

/** What the server must know of a sort of document to save changes of it. Documents and commands are its own sorts. */
export interface DocumentKind {
  /** How people call it. */
  word: string;
  command: typeof Command | typeof PlanCommand;
  maxBytes: number;
  applyAll: (
    document: Document,
    title: string,
    commands: readonly object[],
  ) => Result<Applied<Document, object>, string>;
  read: (value: unknown) => Result<Document, Problem[]>;
  /** Where two changes meet, in words. */
  placeWords: (path: readonly string[], document: Document) => string;
}

// What is stored under a kind was made by it: the casts say so once, here.
export const DOCUMENT_KINDS: Readonly<Record<DocumentKindName, DocumentKind>> = {
  topology: {
    word: 'drawing',
    command: Command,
    maxBytes: MAX_TOPOLOGY_BYTES,
    applyAll: applyBatch as unknown as DocumentKind['applyAll'],
    read: readTopology,
    placeWords: (path) => (path.length ? path.join(' › ') : 'the whole drawing'),
  },
  plan: {
    word: 'plan',
    command: PlanCommand,
    maxBytes: MAX_PLAN_BYTES,
    applyAll: applyPlanCommands as unknown as DocumentKind['applyAll'],
    read: readPlan,
    placeWords: (path, document) => meetingWords(path, document as Plan),
  },
};
