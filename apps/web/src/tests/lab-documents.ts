import 'fake-indexeddb/auto';
import { type LabView, type SaveRequest } from '@sobrin/contracts';
import { type LabParts, type PartCommand, applyPartCommands, readPart } from '@sobrin/core/spec';

type Answer = { status?: number; body?: unknown };

/** Nobody else saves in these tests. */
class SilentEvents {
  addEventListener(): void {}
  close(): void {}
}
Object.defineProperty(globalThis, 'EventSource', { value: SilentEvents, configurable: true });

type EditedPart = keyof LabView['documents'];
type StoredParts = Pick<LabParts, EditedPart>;

/**
 * The documents of a lab as the server keeps them: it takes what the server takes, and refuses the rest. `stored` is what
 * it has, `refuse` what it answers instead for a while.
 */
export function labDocuments({ documents, brief, tasks, spec, policy }: LabView) {
  const stored: StoredParts = { brief, tasks: { tasks }, spec, policy };
  const revisions: Record<EditedPart, number> = { brief: 0, tasks: 0, spec: 0, policy: 0 };
  let refusal: { status: number; body: object } | null = null;
  const save =
    (part: EditedPart) =>
    (request: SaveRequest): Answer => {
      if (refusal) return refusal;
      const done = applyPartCommands(stored[part], 'save', request.commands as PartCommand[]);
      const read = done.ok ? readPart(part, done.value.document) : done;
      if (!read.ok) return { status: 422, body: { message: 'Nothing was stored.', problems: [] } };
      Object.assign(stored, { [part]: read.value });
      return { body: { revision: ++revisions[part], merged: null } };
    };
  const answers: Record<string, (request: SaveRequest) => Answer> = Object.fromEntries(
    (Object.keys(documents) as EditedPart[]).flatMap((part): [string, (request: SaveRequest) => Answer][] => [
      [
        `GET documents/${documents[part]}`,
        () => ({ body: { id: documents[part], revision: revisions[part], document: stored[part] } }),
      ],
      [`POST documents/${documents[part]}/changes`, save(part)],
      [`POST documents/${documents[part]}/aside`, () => ({ body: { revision: ++revisions[part], left: 0 } })],
    ]),
  );
  return { answers, stored, refuse: (answer: typeof refusal) => (refusal = answer) };
}
