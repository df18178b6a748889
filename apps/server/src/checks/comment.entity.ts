import { type CommentKind } from '@sobrin/contracts';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What somebody who teaches says of a submission, or of a device, a link or a requirement of it. */
@Entity('submission_comment')
export class SubmissionComment {
  /** Chosen by who says it, so that what is sent again is one. */
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'submission_id' })
  submissionId!: string;

  @Column('text')
  kind!: CommentKind;

  /** The id of the device, link or requirement; empty for the whole work. */
  @Column('text')
  target!: string;

  @Column('text')
  text!: string;

  @Column('uuid', { name: 'by_id' })
  byId!: string;

  @Column('timestamptz')
  at!: Date;
}
