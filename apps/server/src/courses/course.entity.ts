import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('course')
export class Course {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('text')
  title!: string;

  @Column('text')
  term!: string;

  @Column('uuid', { name: 'instructor_id' })
  instructorId!: string;

  @Column('timestamptz', { name: 'created_at' })
  createdAt!: Date;
}

@Entity('enrolment')
export class Enrolment {
  @PrimaryColumn('uuid', { name: 'course_id' })
  courseId!: string;

  @PrimaryColumn('uuid', { name: 'account_id' })
  accountId!: string;
}
