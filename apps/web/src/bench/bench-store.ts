import {
  type Command,
  type Topology,
  DRAWING_MERGE,
  applyBatch,
  doubled,
  invariantProblems,
  placeInDrawing,
} from '@sobrin/core/topology';
import {
  type DocumentKind,
  type DocumentPorts,
  type DocumentState,
  type DocumentStore,
  createDocumentStore,
} from '../documents/document-store';
import { NOTHING, type Selection } from '../drawing/selection';

export type BenchState = DocumentState<Topology, Command, Selection>;
export type BenchStore = DocumentStore<Topology, Command, Selection>;

/** A drawing as a document: its commands, what must hold in it, and what can be chosen. */
export const DRAWING: DocumentKind<Topology, Command, Selection> = {
  applyAll: applyBatch,
  problem: (topology) => invariantProblems(topology)[0]?.text,
  edits: (edits) => ({ kind: 'edits', edits }),
  merge: DRAWING_MERGE,
  placeWords: placeInDrawing,
  doubled,
  listsVersions: true,
  nothing: NOTHING,
  existing,
};

export const createBenchStore = (
  start: { document: Topology; revision: number },
  ports: DocumentPorts<Topology, Command>,
): BenchStore => createDocumentStore(start, DRAWING, ports);

function existing(topology: Topology, selection: Selection): Selection {
  const there = (ids: readonly string[] = [], map: Readonly<Record<string, unknown>> = {}): string[] =>
    ids.filter((id) => Object.hasOwn(map, id));
  const next = {
    devices: there(selection.devices, topology.devices),
    links: there(selection.links, topology.links),
    sites: there(selection.sites, topology.sites),
    notes: there(selection.notes, topology.notes),
    pictures: there(selection.pictures, topology.pictures),
  };
  const isSame = (Object.keys(next) as (keyof typeof next)[]).every(
    (key) => next[key].length === (selection[key]?.length ?? 0),
  );
  return isSame ? selection : next;
}
