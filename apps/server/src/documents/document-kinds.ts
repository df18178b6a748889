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
    placeWords: (path, document) => placeInDrawing(path, document as Topology),
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

/** A place in a drawing as people call it: by the names of things, not by their ids. */
function placeInDrawing([part, id, ...rest]: readonly string[], { devices, links, sites }: Topology): string {
  if (part === undefined) return 'the whole drawing';
  if (id === undefined) return part;
  const link = part === 'links' ? links[id] : undefined;
  const named = part === 'devices' ? devices[id]?.name : part === 'sites' ? sites[id]?.name : undefined;
  const ends = link && [link.a, link.b].map((end) => `${devices[end.device]?.name ?? ''} ${end.port}`).join(' – ');
  return [named ?? ends ?? `${part} › ${id}`, ...rest].join(' › ');
}
