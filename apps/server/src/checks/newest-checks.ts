import { type EntityManager } from 'typeorm';
import { CheckRecord } from './check.entity';

/** A check without its result, which is large: a class has hundreds. */
export type CheckFacts = Omit<CheckRecord, 'result' | 'cells'>;

const FACTS = [
  'id',
  'submissionId',
  'madeAt',
  'coreVersion',
  'versionHash',
  'inputs',
  'confirmedBy',
  'differs',
  'points',
  'outOf',
  'unjudged',
];

/** The newest check of each submission that has one, by the submission's id. */
export const newestChecks = (
  manager: EntityManager,
  submissionIds: readonly string[],
): Promise<ReadonlyMap<string, CheckFacts>> => newest(manager, submissionIds, FACTS);

/** The same with what tables show of their results. */
export const newestCells = (
  manager: EntityManager,
  submissionIds: readonly string[],
): Promise<ReadonlyMap<string, Omit<CheckRecord, 'result'>>> => newest(manager, submissionIds, [...FACTS, 'cells']);

/** The same with their results, for those who show them. */
export const newestResults = (
  manager: EntityManager,
  submissionIds: readonly string[],
): Promise<ReadonlyMap<string, CheckRecord>> => newest(manager, submissionIds, [...FACTS, 'result']);

async function newest(
  manager: EntityManager,
  submissionIds: readonly string[],
  columns: readonly string[],
): Promise<ReadonlyMap<string, CheckRecord>> {
  if (!submissionIds.length) return new Map();
  const records = await manager
    .createQueryBuilder(CheckRecord, 'record')
    .select(columns.map((column) => `record.${column}`))
    .distinctOn(['record.submissionId'])
    .where('record.submissionId = ANY(:ids)', { ids: submissionIds })
    .orderBy('record.submissionId')
    .addOrderBy('record.madeAt', 'DESC')
    .getMany();
  return new Map(records.map((record) => [record.submissionId, record]));
}
