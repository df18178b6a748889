import { DataSource, type DataSourceOptions } from 'typeorm';
import { Account, KnownBrowser, OneTimeLink, SecondFactor, Session } from '../accounts/account.entity';
import { Assignment } from '../assignments/assignment.entity';
import { DiagnosisRecord } from '../checks/diagnosis.entity';
import { CheckRecord } from '../checks/check.entity';
import { SubmissionComment } from '../checks/comment.entity';
import { DecisionRecord, Pin } from '../checks/decision.entity';
import { Course, Membership } from '../courses/course.entity';
import {
  DocumentBarrier,
  DocumentChange,
  DocumentShowing,
  DocumentVersion,
  StoredDocument,
} from '../documents/document.entity';
import { countOfOldFormats, raiseDocuments } from '../documents/formats';
import { Lab, LabEditor, LabFileRecord, LabFinal, LabVersion } from '../labs/lab.entity';
import {
  AskedHintRecord,
  Attachment,
  SelfCheckRecord,
  Submission,
  TriedAnswer,
  Work,
} from '../submissions/submission.entity';
import { config } from './config';
import { MIGRATIONS } from './migrations';

/**
 * No request waits for ever for a connection or holds one for ever: whoever cannot be served is told so, and the others
 * go on. Migrations have no such limits, since they may rewrite large tables.
 */
const POOL = {
  max: 10,
  connectionTimeoutMillis: 20_000,
  statement_timeout: 30_000,
  lock_timeout: 20_000,
  idle_in_transaction_session_timeout: 30_000,
};

export const databaseOptions = (): DataSourceOptions => ({
  type: 'postgres',
  url: config.databaseUrl,
  entities: [
    Account,
    Session,
    KnownBrowser,
    OneTimeLink,
    SecondFactor,
    Course,
    Membership,
    Lab,
    LabEditor,
    LabFileRecord,
    LabVersion,
    LabFinal,
    Assignment,
    StoredDocument,
    DocumentBarrier,
    DocumentChange,
    DocumentVersion,
    DocumentShowing,
    Work,
    SelfCheckRecord,
    TriedAnswer,
    AskedHintRecord,
    DiagnosisRecord,
    Attachment,
    Submission,
    CheckRecord,
    DecisionRecord,
    Pin,
    SubmissionComment,
  ],
  migrations: MIGRATIONS,
  migrationsTableName: 'schema_migration',
  synchronize: false,
  extra: POOL,
});

/** What servers of this database agree upon to lock while its schema changes. */
const MIGRATING = 84_841;

/** Brings the schema up to date; a database of a newer Sobrin is refused. */
export async function migrate(): Promise<void> {
  const source = await new DataSource({ ...databaseOptions(), extra: {} }).initialize();
  // Of several servers that start at once one migrates, and the others wait for it.
  const holder = source.createQueryRunner();
  try {
    await holder.query('SELECT pg_advisory_lock($1)', [MIGRATING]);
    const known = new Set(MIGRATIONS.map((migration) => migration.name));
    const exists = await source.query<{ found: string | null }[]>(`SELECT to_regclass('schema_migration') AS found`);
    if (exists[0]?.found) {
      const applied = await source.query<{ name: string }[]>('SELECT name FROM schema_migration');
      const newer = applied.find((migration) => !known.has(migration.name));
      if (newer)
        throw new Error(
          `The database was made by a newer Sobrin (it knows ${newer.name}): start that one, or another database.`,
        );
    }
    await source.runMigrations({ transaction: 'all' });
    await source.transaction((manager) => raiseDocuments(manager));
  } finally {
    // The lock goes with the connection.
    await source.destroy();
  }
}

/** How many migrations, or documents of an older format, wait in a database that has something in it; 0 for an empty one. */
export async function pendingMigrations(): Promise<number> {
  const source = await new DataSource({ ...databaseOptions(), extra: {} }).initialize();
  try {
    const [{ found }] = await source.query<[{ found: string | null }]>(
      `SELECT to_regclass('schema_migration') AS found`,
    );
    if (!found) return 0;
    const applied = await source.query<{ name: string }[]>('SELECT name FROM schema_migration');
    const names = new Set(applied.map(({ name }) => name));
    const migrations = MIGRATIONS.filter(({ name }) => !names.has(name)).length;
    return migrations || (await countOfOldFormats(source.manager));
  } finally {
    await source.destroy();
  }
}
