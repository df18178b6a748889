import { type CourseRole } from '@sobrin/contracts';
import { Column, Entity, PrimaryColumn } from 'typeorm';

@Entity('course')
export class Course {
  @PrimaryColumn('uuid')
  id!: string;

  @Column('text')
  title!: string;

  @Column('text')
  term!: string;

  /** Its name in the IANA database. */
  @Column('text', { name: 'time_zone' })
  timeZone!: string;

  @Column('timestamptz', { name: 'created_at' })
  createdAt!: Date;
}

/** What somebody is in a course, and how the course writes their name. */
@Entity('membership')
export class Membership {
  @PrimaryColumn('uuid', { name: 'course_id' })
  courseId!: string;

  @PrimaryColumn('uuid', { name: 'account_id' })
  accountId!: string;

  @Column('text')
  role!: CourseRole;

  @Column('text')
  name!: string;

  /** Empty for none. */
  @Column('text', { name: 'group_name' })
  group!: string;

  /** Null while it is an invitation, which gives no rights. */
  @Column('timestamptz', { name: 'accepted_at', nullable: true })
  acceptedAt!: Date | null;

  /** The course's place among those of the person, from 0; null for one that came since they put them in order. */
  @Column('integer', { nullable: true })
  position!: number | null;
}
