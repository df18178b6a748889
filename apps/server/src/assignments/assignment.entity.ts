import { Column, Entity, JoinColumn, ManyToOne, PrimaryColumn } from 'typeorm';
import { Lab } from '../labs/lab.entity';

/** A lab as a course gets it: which version of it judges, from when it is seen, and until when it is taken. */
@Entity('assignment')
export class Assignment {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'course_id' })
  courseId!: string;

  @Column('uuid', { name: 'lab_id' })
  labId!: string;

  @ManyToOne(() => Lab, { eager: true })
  @JoinColumn({ name: 'lab_id' })
  lab!: Lab;

  /** Null until it is released. */
  @Column('text', { name: 'version_hash', nullable: true })
  versionHash!: string | null;

  /** From when students see it; null while only its instructor does. */
  @Column('timestamptz', { name: 'released_at', nullable: true })
  releasedAt!: Date | null;

  @Column('timestamptz', { name: 'due_at', nullable: true })
  dueAt!: Date | null;

  /** Its place among the labs of the course, from 0; null for one that came since they were put in order. */
  @Column('integer', { nullable: true })
  position!: number | null;

  @Column('timestamptz', { name: 'created_at' })
  createdAt!: Date;
}
