import { type Result } from '@sobrin/core';
import { type Applied } from '@sobrin/core/changes';
import { MAX_TOPOLOGY_BYTES } from '@sobrin/core/formats';
import { type Plan, MAX_PLAN_BYTES, PlanCommand, applyPlanCommands, meetingWords, readPlan } from '@sobrin/core/plan';
import {
  type LabPart,
  type LabParts,
  LAB_PARTS,
  MAX_PART_BYTES,
  PartCommand,
  applyPartCommands,
  partWords,
  placeInPart,
  readPart,
} from '@sobrin/core/spec';
import { type Problem, type Topology, Command, applyBatch, placeInDrawing, readTopology } from '@sobrin/core/topology';

export type Document = Topology | Plan | LabParts[LabPart];
export type DocumentKindName = 'topology' | 'plan' | 'starter' | LabPart;

/** What the server must know of a sort of document to save changes of it. Documents and commands are its own sorts. */
export interface DocumentKind {
  /** How people call it. */
  word: string;
  command: typeof Command | typeof PlanCommand | typeof PartCommand;
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
const DRAWING: DocumentKind = {
  word: 'drawing',
  command: Command,
  maxBytes: MAX_TOPOLOGY_BYTES,
  applyAll: applyBatch as unknown as DocumentKind['applyAll'],
  read: readTopology,
  placeWords: (path, document) => placeInDrawing(path, document as Topology),
};
const PLAN: DocumentKind = {
  word: 'plan',
  command: PlanCommand,
  maxBytes: MAX_PLAN_BYTES,
  applyAll: applyPlanCommands as unknown as DocumentKind['applyAll'],
  read: readPlan,
  placeWords: (path, document) => meetingWords(path, document as Plan),
};
const partKind = (part: LabPart): DocumentKind => ({
  word: partWords(part),
  command: PartCommand,
  maxBytes: MAX_PART_BYTES,
  applyAll: applyPartCommands as unknown as DocumentKind['applyAll'],
  read: (value) => readPart(part, value),
  placeWords: placeInPart,
});

export const DOCUMENT_KINDS: Readonly<Record<DocumentKindName, DocumentKind>> = {
  topology: DRAWING,
  starter: DRAWING,
  plan: PLAN,
  ...(Object.fromEntries(LAB_PARTS.map((part) => [part, partKind(part)])) as Record<LabPart, DocumentKind>),
};
