import { type TSchema } from '@sinclair/typebox';
import { PlanFile } from '../plan';
import { LabFile, SubmissionFile } from '../spec';
import { Topology } from '../topology';

/** The JSON Schemas (draft 2020-12) that docs/format publishes, by file name. The same objects check every document. */
export function publishedSchemas(): Record<string, unknown> {
  const publish = (name: string, schema: TSchema): unknown => ({
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: `sobrin:${name}`,
    ...(JSON.parse(JSON.stringify(schema)) as object),
  });
  return {
    'topology-1': publish('topology-1', Topology),
    'plan-1': publish('plan-1', PlanFile),
    'lab-2': publish('lab-2', LabFile),
    'submission-2': publish('submission-2', SubmissionFile),
  };
}
