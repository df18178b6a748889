import { policyFrom2 } from '@sobrin/core/formats';
import { PLAN_VERSION } from '@sobrin/core/plan';
import { LAB_PARTS, LAB_VERSION } from '@sobrin/core/spec';
import { TOPOLOGY_VERSION } from '@sobrin/core/topology';
import { type EntityManager } from 'typeorm';
import { jsonb } from '../platform/jsonb';
import { type Document, type DocumentKindName } from './document-kinds';

/** The format in which documents of a kind are stored. */
export interface Format {
  version: number;
  /** How a document of an earlier version becomes one of the next. Only what was stored in a database is ever here. */
  raise: Readonly<Record<number, (document: object) => object>>;
}
export type Formats = Readonly<Record<DocumentKindName, Format>>;

/** What is in the next version of a format as it was in the one before. */
const asItIs = (document: object): object => document;

/** A drawing names its version itself. */
const topologyTo =
  (version: number) =>
  (document: object): object => ({ ...document, version });
const TOPOLOGY = { version: TOPOLOGY_VERSION, raise: { 1: topologyTo(2), 2: topologyTo(3), 3: topologyTo(4) } };

export const FORMATS: Formats = {
  topology: TOPOLOGY,
  starter: TOPOLOGY,
  plan: { version: PLAN_VERSION, raise: { 1: asItIs } },
  ...(Object.fromEntries(
    LAB_PARTS.map((part): [string, Format] => [
      part,
      { version: LAB_VERSION, raise: { 2: asItIs, 3: asItIs, 4: asItIs, 5: asItIs, 6: asItIs, 7: asItIs, 8: asItIs } },
    ]),
  ) as Record<(typeof LAB_PARTS)[number], Format>),
  policy: {
    version: LAB_VERSION,
    raise: {
      2: (policy) => policyFrom2(policy) as object,
      3: asItIs,
      4: asItIs,
      5: asItIs,
      6: asItIs,
      7: asItIs,
      8: asItIs,
    },
  },
};

/** A document of an earlier version of its format as one of today's. */
export function raised(kind: DocumentKindName, from: number, document: object, formats: Formats = FORMATS): Document {
  const { version, raise } = formats[kind];
  let now: object = document;
  for (let at = from; at < version; at++) {
    const step = raise[at];
    if (!step) throw new Error(`Nothing makes a ${kind} of format ${at} one of format ${at + 1}.`);
    now = step(now);
  }
  return now;
}

const BATCH = 100;

/**
 * Brings documents to today's formats when a server of a newer Sobrin starts. What takes back earlier saves fits only the
 * format in which they were made: so the document is kept as it was, and older versions are worked out from there.
 */
export async function raiseDocuments(manager: EntityManager, formats: Formats = FORMATS): Promise<void> {
  for (const [kind, { version }] of Object.entries(formats) as [DocumentKindName, Format][]) {
    const [newer] = await manager.query<{ format: number }[]>(
      'SELECT format FROM document WHERE kind = $1 AND format > $2 LIMIT 1',
      [kind, version],
    );
    if (newer)
      throw new Error(
        `The database holds documents of a newer Sobrin (${kind} of format ${newer.format}, this one knows ${version}): start that one, or another database.`,
      );
    for (;;) {
      const rows = await manager.query<{ id: string; revision: number; format: number; content: object }[]>(
        `SELECT id, revision, format, content FROM document WHERE kind = $1 AND format < $2 LIMIT ${BATCH}`,
        [kind, version],
      );
      if (!rows.length) break;
      for (const { id, revision, format, content } of rows) {
        await manager.query(
          'INSERT INTO document_barrier (document_id, revision, format, content) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING',
          [id, revision, format, JSON.stringify(content)],
        );
        await manager.query('UPDATE document SET format = $2, content = $3 WHERE id = $1', [
          id,
          version,
          jsonb(raised(kind, format, content, formats)),
        ]);
      }
    }
  }
}

/** How many documents are of an older format. */
export async function countOfOldFormats(manager: EntityManager): Promise<number> {
  const [{ count }] = await manager.query<[{ count: number }]>(
    `SELECT count(*)::int FROM document JOIN jsonb_each_text($1) AS today (kind, version) USING (kind)
      WHERE document.format < today.version::int`,
    [JSON.stringify(Object.fromEntries(Object.entries(FORMATS).map(([kind, { version }]) => [kind, version])))],
  );
  return count;
}
