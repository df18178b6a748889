import { type Footprint } from '@sobrin/core/changes';
import { Column, Entity, PrimaryColumn } from 'typeorm';
import { type DocumentKindName } from './document-kinds';

/** A document that is worked on: a part of a lab, or the drawing or the plan of a student's work. */
@Entity('document')
export class StoredDocument {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('text')
  kind!: DocumentKindName;

  @Column('integer')
  revision!: number;

  /** The version of the format in which it is stored. */
  @Column('integer')
  format!: number;

  /** A document of its kind. */
  @Column('jsonb')
  content!: object;
}

/** A document as it was before its format changed: what takes back earlier saves fits this one. See formats.ts. */
@Entity('document_barrier')
export class DocumentBarrier {
  @PrimaryColumn('uuid', { name: 'document_id' })
  documentId!: string;

  @PrimaryColumn('integer')
  revision!: number;

  @Column('integer')
  format!: number;

  @Column('jsonb')
  content!: object;
}

/** A name for a document as it was at a revision. The document itself is not stored again: see `DocumentChange`. */
@Entity('document_version')
export class DocumentVersion {
  @PrimaryColumn('uuid', { name: 'document_id' })
  documentId!: string;

  @PrimaryColumn('integer')
  revision!: number;

  @Column('text')
  name!: string;

  @Column('uuid', { name: 'author_id' })
  authorId!: string;

  @Column('timestamptz', { name: 'made_at' })
  madeAt!: Date;
}

/** That a document may be looked at by whoever has the key, until this is taken away. */
@Entity('document_showing')
export class DocumentShowing {
  @PrimaryColumn('uuid', { name: 'document_id' })
  documentId!: string;

  @Column('text')
  key!: string;

  @Column('uuid', { name: 'author_id' })
  authorId!: string;

  @Column('timestamptz', { name: 'made_at' })
  madeAt!: Date;
}

/** One save: the commands, how to undo them, and what they read and wrote, for replaying stale saves. */
@Entity('document_change')
export class DocumentChange {
  @PrimaryColumn('uuid', { name: 'document_id' })
  documentId!: string;

  @PrimaryColumn('integer')
  revision!: number;

  @Column('uuid', { name: 'save_id' })
  saveId!: string;

  @Column('uuid', { name: 'author_id' })
  authorId!: string;

  @Column('timestamptz', { name: 'made_at' })
  madeAt!: Date;

  @Column('jsonb')
  commands!: object[];

  @Column('jsonb')
  inverse!: object;

  @Column('jsonb')
  footprint!: Footprint;
}
