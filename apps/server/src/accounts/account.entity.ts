import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('account')
export class Account {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('text')
  login!: string;

  @Column('text')
  name!: string;

  @Column('boolean', { name: 'may_create_courses' })
  mayCreateCourses!: boolean;

  /** Null where none was chosen yet: nobody signs in with it. */
  @Column('text', { name: 'password_hash', select: false, nullable: true })
  passwordHash!: string | null;

  @Column('boolean')
  demo!: boolean;
}

/** A browser in which somebody has signed in: strangers cannot use up its tries. Only the hash of its cookie is kept. */
@Entity('known_browser')
export class KnownBrowser {
  @PrimaryColumn('text', { name: 'token_hash' })
  tokenHash!: string;

  @PrimaryColumn('uuid', { name: 'account_id' })
  accountId!: string;

  @Column('timestamptz', { name: 'seen_at' })
  seenAt!: Date;
}

/** An address with which somebody chooses a password, once. Only the hash of what stands in it is kept. */
@Entity('one_time_link')
export class OneTimeLink {
  @PrimaryColumn('text', { name: 'token_hash' })
  tokenHash!: string;

  @Column('uuid', { name: 'account_id' })
  accountId!: string;

  @Column('timestamptz', { name: 'expires_at' })
  expiresAt!: Date;
}

/** A signed-in browser. Only the hash of the cookie is kept, so that a copy of the table signs nobody in. */
@Entity('session')
export class Session {
  @PrimaryColumn('text', { name: 'token_hash' })
  tokenHash!: string;

  /** What it is called where sessions are listed. */
  @Column('uuid')
  id!: string;

  @Column('uuid', { name: 'account_id' })
  accountId!: string;

  /** What the browser says of itself. */
  @Column('text')
  agent!: string;

  @Column('timestamptz')
  since!: Date;

  @Column('timestamptz', { name: 'expires_at' })
  expiresAt!: Date;

  /** When it was used last, to some minutes. */
  @Column('timestamptz', { name: 'seen_at' })
  seenAt!: Date;
}

/** A secret for codes beside the password (RFC 6238), in base 32; asked for once it is on. */
@Entity('second_factor')
export class SecondFactor {
  @PrimaryColumn('uuid', { name: 'account_id' })
  accountId!: string;

  @Column('text')
  secret!: string;

  @Column('boolean', { name: 'is_on' })
  isOn!: boolean;

  /** The last step of time whose code was used: none is good twice. */
  @Column('bigint', { name: 'last_step' })
  lastStep!: string;

  /** Hashes of the codes that are left for when the telephone is lost. */
  @Column('text', { name: 'spare_codes', array: true })
  spareCodes!: string[];
}
