import { briefFrom1, planFrom1 } from '@sobrin/core/formats';
import { randomUUID } from 'node:crypto';
import { type MigrationInterface, type QueryRunner } from 'typeorm';
import { Asked1764676800000 } from './migration-asked';
import { Assignments1764475200000 } from './migration-assignments';
import { Comments1764507600000 } from './migration-comments';
import { SelfChecks1764511200000 } from './migration-self-checks';
import { Diagnoses1764590400000 } from './migration-diagnoses';
import { Decisions1764504000000 } from './migration-decisions';
import { ConfigTexts1764496800000 } from './migration-config-texts';
import { Formats1764486000000 } from './migration-formats';
import { Memberships1764482400000 } from './migration-memberships';
import { Order1764500400000 } from './migration-order';
import { Presence1764489600000 } from './migration-presence';
import { SecondFactor1764493200000 } from './migration-second-factor';
import { Records1764478800000 } from './migration-records';

/** The first schema. Documents are JSON; everything that is searched or joined by is a column. */
export class First1732406400000 implements MigrationInterface {
  name = 'First1732406400000';

  async up(db: QueryRunner): Promise<void> {
    for (const statement of [
      `CREATE TABLE account (
        id uuid PRIMARY KEY, login text NOT NULL UNIQUE, name text NOT NULL,
        role text NOT NULL CHECK (role IN ('instructor', 'student')), password_hash text NOT NULL, demo boolean NOT NULL DEFAULT false)`,
      `CREATE TABLE session (
        token_hash text PRIMARY KEY, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE, expires_at timestamptz NOT NULL)`,
      `CREATE TABLE course (
        id uuid PRIMARY KEY, title text NOT NULL, term text NOT NULL, instructor_id uuid NOT NULL REFERENCES account, created_at timestamptz NOT NULL)`,
      `CREATE TABLE enrolment (
        course_id uuid NOT NULL REFERENCES course ON DELETE CASCADE, account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE, PRIMARY KEY (course_id, account_id))`,
      `CREATE TABLE document (id uuid PRIMARY KEY, revision integer NOT NULL, topology jsonb NOT NULL)`,
      `CREATE TABLE document_change (
        document_id uuid NOT NULL REFERENCES document ON DELETE CASCADE, revision integer NOT NULL, save_id uuid NOT NULL, author_id uuid NOT NULL REFERENCES account,
        made_at timestamptz NOT NULL, commands jsonb NOT NULL, inverse jsonb NOT NULL, footprint jsonb NOT NULL, PRIMARY KEY (document_id, revision), UNIQUE (document_id, save_id))`,
      `CREATE TABLE lab (
        id uuid PRIMARY KEY, course_id uuid NOT NULL REFERENCES course ON DELETE CASCADE, title text NOT NULL, revision integer NOT NULL,
        brief jsonb NOT NULL, tasks jsonb NOT NULL, plan jsonb NOT NULL, spec jsonb NOT NULL, policy jsonb NOT NULL,
        starter jsonb, handout jsonb, stages jsonb,
        reference_id uuid NOT NULL REFERENCES document, due_at timestamptz, created_at timestamptz NOT NULL)`,
      `CREATE TABLE work (
        id uuid PRIMARY KEY, lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, student_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
        document_id uuid NOT NULL REFERENCES document, answers jsonb NOT NULL, UNIQUE (lab_id, student_id))`,
      `CREATE TABLE attachment (
        id uuid PRIMARY KEY, work_id uuid NOT NULL REFERENCES work ON DELETE CASCADE, name text NOT NULL, type text NOT NULL, size integer NOT NULL,
        bytes bytea NOT NULL, removed boolean NOT NULL DEFAULT false)`,
      `CREATE TABLE submission (
        id uuid PRIMARY KEY, lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, student_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
        attempt integer NOT NULL, topology jsonb NOT NULL, answers jsonb NOT NULL, attachment_ids jsonb NOT NULL,
        handed_in_at timestamptz NOT NULL, late boolean NOT NULL, UNIQUE (lab_id, student_id, attempt))`,
      `CREATE TABLE check_result (
        id uuid PRIMARY KEY, submission_id uuid NOT NULL REFERENCES submission ON DELETE CASCADE, made_at timestamptz NOT NULL,
        core_version text NOT NULL, spec_hash text NOT NULL, submission_hash text NOT NULL,
        points double precision NOT NULL, out_of double precision NOT NULL, result jsonb NOT NULL)`,
      `CREATE INDEX check_result_by_submission ON check_result (submission_id, made_at DESC)`,
      `CREATE INDEX submission_by_lab ON submission (lab_id)`,
      `CREATE INDEX enrolment_by_account ON enrolment (account_id)`,
    ])
      await db.query(statement);
  }

  async down(db: QueryRunner): Promise<void> {
    for (const table of [
      'check_result',
      'submission',
      'attachment',
      'work',
      'lab',
      'document_change',
      'document',
      'enrolment',
      'course',
      'session',
      'account',
    ])
      await db.query(`DROP TABLE ${table}`);
  }
}

interface LabRow {
  id: string;
  brief: unknown;
  plan: unknown;
}

/** Plans become documents of their own, saved by commands; works and submissions have one too; labs have files. */
export class Plans1732665600000 implements MigrationInterface {
  name = 'Plans1732665600000';

  async up(db: QueryRunner): Promise<void> {
    for (const statement of [
      `ALTER TABLE document RENAME COLUMN topology TO content`,
      `ALTER TABLE document ADD COLUMN kind text NOT NULL DEFAULT 'topology' CHECK (kind IN ('topology', 'plan'))`,
      `ALTER TABLE document ALTER COLUMN kind DROP DEFAULT`,
      `ALTER TABLE lab ADD COLUMN plan_id uuid REFERENCES document`,
      `ALTER TABLE work ADD COLUMN plan_id uuid REFERENCES document`,
      `ALTER TABLE submission ADD COLUMN plan jsonb`,
      `CREATE TABLE lab_file (
        lab_id uuid NOT NULL REFERENCES lab ON DELETE CASCADE, id text NOT NULL, name text NOT NULL, type text NOT NULL, size integer NOT NULL,
        bytes bytea NOT NULL, PRIMARY KEY (lab_id, id))`,
    ])
      await db.query(statement);
    for (const lab of (await db.query('SELECT id, brief, plan FROM lab')) as LabRow[]) {
      const planId = await this.addPlan(db, planFrom1(lab.plan));
      await db.query('UPDATE lab SET plan_id = $1, brief = $2 WHERE id = $3', [
        planId,
        JSON.stringify(briefFrom1(lab.brief)),
        lab.id,
      ]);
    }
    for (const work of (await db.query('SELECT id FROM work')) as { id: string }[])
      await db.query('UPDATE work SET plan_id = $1 WHERE id = $2', [await this.addPlan(db, { blocks: {} }), work.id]);
    for (const statement of [
      `ALTER TABLE lab ALTER COLUMN plan_id SET NOT NULL, DROP COLUMN plan`,
      `ALTER TABLE work ALTER COLUMN plan_id SET NOT NULL`,
    ])
      await db.query(statement);
  }

  private async addPlan(db: QueryRunner, plan: unknown): Promise<string> {
    const id = randomUUID();
    await db.query(`INSERT INTO document (id, kind, revision, content) VALUES ($1, 'plan', 0, $2)`, [
      id,
      JSON.stringify(plan),
    ]);
    return id;
  }

  /** Blocks go back into their lab; what the first schema has no place for (plans of works, files) is lost. */
  async down(db: QueryRunner): Promise<void> {
    for (const statement of [
      `ALTER TABLE lab ADD COLUMN plan jsonb`,
      `UPDATE lab SET plan = jsonb_build_object('blocks', document.content -> 'blocks') FROM document WHERE document.id = lab.plan_id`,
      `ALTER TABLE lab ALTER COLUMN plan SET NOT NULL, DROP COLUMN plan_id`,
      `ALTER TABLE work DROP COLUMN plan_id`,
      `ALTER TABLE submission DROP COLUMN plan`,
      `DROP TABLE lab_file`,
      `DELETE FROM document WHERE kind = 'plan'`,
      `ALTER TABLE document DROP COLUMN kind`,
      `ALTER TABLE document RENAME COLUMN content TO topology`,
    ])
      await db.query(statement);
  }
}

/** Names for revisions of documents. */
export class Versions1764115200000 implements MigrationInterface {
  name = 'Versions1764115200000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE document_version (
      document_id uuid NOT NULL REFERENCES document ON DELETE CASCADE, revision integer NOT NULL, name text NOT NULL,
      author_id uuid NOT NULL REFERENCES account, made_at timestamptz NOT NULL, PRIMARY KEY (document_id, revision))`);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`DROP TABLE document_version`);
  }
}

/** Keys with which documents can be looked at without signing in. */
export class Showings1764180000000 implements MigrationInterface {
  name = 'Showings1764180000000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE document_showing (
      document_id uuid PRIMARY KEY REFERENCES document ON DELETE CASCADE, key text NOT NULL UNIQUE,
      author_id uuid NOT NULL REFERENCES account, made_at timestamptz NOT NULL)`);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query(`DROP TABLE document_showing`);
  }
}

const PART_NAMES = ['brief', 'tasks', 'spec', 'policy', 'handout', 'stages', 'starter'] as const;
type PartRow = { id: string } & Record<(typeof PART_NAMES)[number], unknown>;

/** The other parts of labs become documents as well, each with revisions of its own; lists stand under their name. */
export class LabParts1764374400000 implements MigrationInterface {
  name = 'LabParts1764374400000';

  async up(db: QueryRunner): Promise<void> {
    await db.query(`ALTER TABLE document DROP CONSTRAINT document_kind_check`);
    await db.query(
      `ALTER TABLE document ADD CONSTRAINT document_kind_check CHECK (kind IN ('topology', 'plan', ${PART_NAMES.map((part) => `'${part}'`).join(', ')}))`,
    );
    for (const part of PART_NAMES) await db.query(`ALTER TABLE lab ADD COLUMN ${part}_id uuid REFERENCES document`);
    for (const lab of (await db.query(`SELECT id, ${PART_NAMES.join(', ')} FROM lab`)) as PartRow[]) {
      const contents: Record<string, unknown> = {
        ...lab,
        tasks: { tasks: lab.tasks },
        stages: { stages: lab.stages ?? [] },
        handout: lab.handout ?? {},
      };
      for (const part of PART_NAMES) {
        if (contents[part] === null) continue;
        const id = randomUUID();
        await db.query(`INSERT INTO document (id, kind, revision, content) VALUES ($1, $2, 0, $3)`, [
          id,
          part,
          JSON.stringify(contents[part]),
        ]);
        await db.query(`UPDATE lab SET ${part}_id = $1 WHERE id = $2`, [id, lab.id]);
      }
    }
    for (const part of PART_NAMES) {
      if (part !== 'starter') await db.query(`ALTER TABLE lab ALTER COLUMN ${part}_id SET NOT NULL`);
      await db.query(`ALTER TABLE lab DROP COLUMN ${part}`);
    }
  }

  /** The parts go back into their lab as they are now; their earlier versions are lost. */
  async down(db: QueryRunner): Promise<void> {
    for (const part of PART_NAMES) {
      const content = part === 'tasks' || part === 'stages' ? `document.content -> '${part}'` : 'document.content';
      await db.query(`ALTER TABLE lab ADD COLUMN ${part} jsonb`);
      await db.query(`UPDATE lab SET ${part} = ${content} FROM document WHERE document.id = lab.${part}_id`);
      await db.query(`ALTER TABLE lab DROP COLUMN ${part}_id`);
    }
    for (const part of ['brief', 'tasks', 'spec', 'policy'])
      await db.query(`ALTER TABLE lab ALTER COLUMN ${part} SET NOT NULL`);
    await db.query(`DELETE FROM document WHERE kind NOT IN ('topology', 'plan')`);
    await db.query(`ALTER TABLE document DROP CONSTRAINT document_kind_check`);
    await db.query(`ALTER TABLE document ADD CONSTRAINT document_kind_check CHECK (kind IN ('topology', 'plan'))`);
  }
}

/** What refers to other rows and is looked up by them, or must be looked through when they go. */
const REFERRING: Readonly<Record<string, readonly string[]>> = {
  session: ['account_id'],
  course: ['instructor_id'],
  document_change: ['author_id'],
  document_version: ['author_id'],
  document_showing: ['author_id'],
  lab: ['course_id', 'reference_id', 'plan_id', ...PART_NAMES.map((part) => `${part}_id`)],
  work: ['student_id', 'document_id', 'plan_id'],
  attachment: ['work_id'],
  submission: ['student_id'],
};

/** An index on every column that refers to another table. */
export class Indexes1764460800000 implements MigrationInterface {
  name = 'Indexes1764460800000';

  async up(db: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(REFERRING))
      for (const column of columns) await db.query(`CREATE INDEX ${table}_${column} ON ${table} (${column})`);
  }

  async down(db: QueryRunner): Promise<void> {
    for (const [table, columns] of Object.entries(REFERRING))
      for (const column of columns) await db.query(`DROP INDEX ${table}_${column}`);
  }
}

/** Sessions end when nobody has used them for a while. */
export class IdleSessions1764464400000 implements MigrationInterface {
  name = 'IdleSessions1764464400000';

  async up(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE session ADD COLUMN seen_at timestamptz NOT NULL DEFAULT now()');
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE session DROP COLUMN seen_at');
  }
}

/** Tries of passwords are counted for all servers, browsers in which people signed in are known, and sessions are listed. */
export class SignIn1764468000000 implements MigrationInterface {
  name = 'SignIn1764468000000';

  async up(db: QueryRunner): Promise<void> {
    await db.query('CREATE TABLE guess (key text PRIMARY KEY, since timestamptz NOT NULL, count integer NOT NULL)');
    await db.query(`CREATE TABLE known_browser (
      token_hash text NOT NULL,
      account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
      seen_at timestamptz NOT NULL,
      PRIMARY KEY (token_hash, account_id)
    )`);
    await db.query('CREATE INDEX known_browser_account_id ON known_browser (account_id)');
    await db.query(`ALTER TABLE session
      ADD COLUMN id uuid NOT NULL UNIQUE DEFAULT gen_random_uuid(),
      ADD COLUMN agent text NOT NULL DEFAULT '',
      ADD COLUMN since timestamptz NOT NULL DEFAULT now()`);
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE session DROP COLUMN id, DROP COLUMN agent, DROP COLUMN since');
    await db.query('DROP TABLE known_browser');
    await db.query('DROP TABLE guess');
  }
}

/** Whoever is new chooses a password with an address that is good once. */
export class OneTimeLinks1764471600000 implements MigrationInterface {
  name = 'OneTimeLinks1764471600000';

  async up(db: QueryRunner): Promise<void> {
    await db.query('ALTER TABLE account ALTER COLUMN password_hash DROP NOT NULL');
    await db.query(`CREATE TABLE one_time_link (
      token_hash text PRIMARY KEY,
      account_id uuid NOT NULL REFERENCES account ON DELETE CASCADE,
      expires_at timestamptz NOT NULL
    )`);
    await db.query('CREATE INDEX one_time_link_account_id ON one_time_link (account_id)');
  }

  /** Who has chosen no password yet gets one that fits nothing. */
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE one_time_link');
    await db.query(`UPDATE account SET password_hash = '' WHERE password_hash IS NULL`);
    await db.query('ALTER TABLE account ALTER COLUMN password_hash SET NOT NULL');
  }
}

export const MIGRATIONS = [
  First1732406400000,
  Plans1732665600000,
  Versions1764115200000,
  Showings1764180000000,
  LabParts1764374400000,
  Indexes1764460800000,
  IdleSessions1764464400000,
  SignIn1764468000000,
  OneTimeLinks1764471600000,
  Assignments1764475200000,
  Records1764478800000,
  Memberships1764482400000,
  Formats1764486000000,
  Presence1764489600000,
  SecondFactor1764493200000,
  ConfigTexts1764496800000,
  Order1764500400000,
  Decisions1764504000000,
  Comments1764507600000,
  SelfChecks1764511200000,
  Diagnoses1764590400000,
  Asked1764676800000,
];
