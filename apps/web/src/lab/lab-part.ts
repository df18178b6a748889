import { editsBetween } from '@sobrin/core/changes';
import {
  type LabPart,
  type LabParts,
  type PartCommand,
  applyPartCommands,
  partMerge,
  placeInPart,
  readPart,
} from '@sobrin/core/spec';
import { useMemo } from 'react';
import { type DocumentKind, type DocumentState, type DocumentStore } from '../documents/document-store';
import { type Listen, listenTo, useOpenDocument } from '../documents/open-document';
import { lineOfLab } from '../documents/others';

/** Nothing can be chosen in a part of a lab. */
type Nothing = null;
export type PartState<P extends LabPart> = DocumentState<LabParts[P], PartCommand, Nothing>;
export type PartStore<P extends LabPart> = DocumentStore<LabParts[P], PartCommand, Nothing>;
type PartKind<P extends LabPart> = DocumentKind<LabParts[P], PartCommand, Nothing>;

/** What must be known of a part of a lab to work on it as a document. */
export const partKind = <P extends LabPart>(part: P): PartKind<P> => ({
  // What is applied to a part of a kind is one of that kind afterwards: `problem` sees to it.
  applyAll: applyPartCommands as unknown as PartKind<P>['applyAll'],
  problem: (document) => {
    const read = readPart(part, document);
    if (read.ok) return undefined;
    const [{ place, text }] = read.error as [{ place: string; text: string }];
    return place ? `${place}: ${text}` : text;
  },
  edits: (edits) => ({ kind: 'edits', edits }),
  merge: partMerge(part),
  placeWords: placeInPart,
  nothing: null,
  existing: () => null,
});

/** Makes a part another one: by the fewest edits, so that what others change elsewhere in it stands. */
export function setPart<P extends LabPart>(store: PartStore<P>, title: string, next: LabParts[P]): boolean {
  const edits = editsBetween(store.getState().document, next);
  return edits.length > 0 && store.getState().do(title, { kind: 'edits', edits });
}

/** Opens a part of a lab. All parts of one lab hear of saves by one connection. */
export function useLabPart<P extends LabPart>(labId: string, part: P, documentId: string) {
  const kind = useMemo(() => partKind(part), [part]);
  const listen = useMemo(() => listenInLab(labId), [labId]);
  return useOpenDocument(documentId, kind, listen);
}

interface Line {
  readonly hears: Set<(document: string, revision: number) => void>;
  /** What was heard last, for those who come to it later. */
  readonly known: Map<string, number>;
  readonly end: () => void;
}
const lines = new Map<string, Line>();

const listenInLab =
  (labId: string): Listen =>
  (documentId, hear) => {
    const mine = (document: string, revision: number): void => {
      if (document === documentId) hear(revision);
    };
    const line = lines.get(labId) ?? beginLine(labId);
    line.hears.add(mine);
    const known = line.known.get(documentId);
    if (known !== undefined) hear(known);
    return () => {
      line.hears.delete(mine);
      if (line.hears.size || lines.get(labId) !== line) return;
      line.end();
      lines.delete(labId);
    };
  };

function beginLine(labId: string): Line {
  const hears: Line['hears'] = new Set();
  const known: Line['known'] = new Map();
  const end = listenTo(lineOfLab(labId), (data) => {
    const [document, revision] = data.split(' ') as [string, string];
    known.set(document, Number(revision));
    for (const hear of hears) hear(document, Number(revision));
  });
  const line = { hears, known, end };
  lines.set(labId, line);
  return line;
}
