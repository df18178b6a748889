import { type Command, type Topology, applyBatch, invariantProblems } from '@sobrin/core';
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
  replace: (topology) => ({ kind: 'replace', topology }),
  nothing: NOTHING,
  existing,
};

export const createBenchStore = (
  start: { document: Topology; revision: number },
  ports: DocumentPorts<Topology, Command>,
): BenchStore => createDocumentStore(start, DRAWING, ports);

function existing(topology: Topology, { devices, links, sites, notes = [] }: Selection): Selection {
  const next = {
    devices: devices.filter((id) => topology.devices[id]),
    links: links.filter((id) => topology.links[id]),
    sites: sites.filter((id) => topology.sites[id]),
    notes: notes.filter((id) => topology.notes?.[id]),
  };
  const same =
    next.devices.length === devices.length &&
    next.links.length === links.length &&
    next.sites.length === sites.length &&
    next.notes.length === notes.length;
  return same ? { devices, links, sites, ...(notes.length && { notes }) } : next;
}
