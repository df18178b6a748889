import {
  type Brief,
  type Handout,
  type Plan,
  type Policy,
  type Spec,
  type Stage,
  type Task,
  type Topology,
} from '@sobrin/core';
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

  @Column('jsonb')
  plan!: Plan;

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
