import { type Brief, type Handout, type Policy, type Spec, type Stage, type Task, type Topology } from '@sobrin/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('lab')
export class Lab {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('uuid', { name: 'course_id' })
  courseId!: string;

  @Column('text')
  title!: string;

  @Column('integer')
  revision!: number;

  @Column('jsonb')
  brief!: Brief;

  @Column('jsonb')
  tasks!: Task[];

  @Column('uuid', { name: 'plan_id' })
  planId!: string;

  @Column('jsonb')
  spec!: Spec;

  @Column('jsonb')
  policy!: Policy;

  @Column('jsonb', { nullable: true })
  starter!: Topology | null;

  @Column('jsonb', { nullable: true })
  handout!: Handout | null;

  @Column('jsonb', { nullable: true })
  stages!: Stage[] | null;

  @Column('uuid', { name: 'reference_id' })
  referenceId!: string;

  @Column('timestamptz', { name: 'due_at', nullable: true })
  dueAt!: Date | null;

  @Column('timestamptz', { name: 'created_at' })
  createdAt!: Date;
}

/** A file that comes with a lab: a picture of the scenario, or whatever else students get. Its id is the lab's own. */
@Entity('lab_file')
export class LabFileRecord {
  @PrimaryColumn('uuid', { name: 'lab_id' })
  labId!: string;

  @PrimaryColumn('text')
  id!: string;

  @Column('text')
  name!: string;

  @Column('text')
  type!: string;

  @Column('integer')
  size!: number;

  @Column('bytea', { select: false })
  bytes!: Buffer;
}
