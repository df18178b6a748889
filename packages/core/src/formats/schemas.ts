import { type TSchema } from '@sinclair/typebox';
import { PLAN_VERSION, PlanFile } from '../plan';
import { LAB_VERSION, LabFile, SUBMISSION_VERSION, SubmissionFile } from '../spec';
import { TOPOLOGY_VERSION, Topology } from '../topology';

/** The JSON Schemas (draft 2020-12) that docs/format publishes, by file name. The same objects check every document. */
export function publishedSchemas(): Record<string, unknown> {
  const publish = (name: string, version: number, schema: TSchema): Record<string, unknown> => ({
    [`${name}-${version}`]: {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      $id: `sobrin:${name}-${version}`,
      ...(JSON.parse(JSON.stringify(schema)) as object),
    },
  });
  return {
    ...publish('topology', TOPOLOGY_VERSION, Topology),
    ...publish('plan', PLAN_VERSION, PlanFile),
    ...publish('lab', LAB_VERSION, LabFile),
    ...publish('submission', SUBMISSION_VERSION, SubmissionFile),
  };
}
