import { type Command, type Footprint, type Topology } from '@sobrin/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A drawing that is worked on: a lab's reference, or a student's work. */
@Entity('document')
export class StoredDocument {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('integer')
  revision!: number;

  @Column('jsonb')
  topology!: Topology;
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
  commands!: Command[];

  @Column('jsonb')
  inverse!: Command;

  @Column('jsonb')
  footprint!: Footprint;
}
