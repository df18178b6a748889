import { IsString, Length } from 'class-validator';
import { type CourseRole } from './courses';

const PASSWORD_LENGTH = 'A password has at least 10 characters and at most 200.';

export class SignInRequest {
  @IsString()
  @Length(1, 80)
  login!: string;

  @IsString()
  @Length(1, 200)
  password!: string;
}

export class DemoSignInRequest {
  @IsString()
  @Length(1, 80)
  login!: string;
}

/** What stands in an address with which somebody chooses a password. */
export class LinkRequest {
  @IsString()
  @Length(1, 100)
  token!: string;
}

export class EnterRequest extends LinkRequest {
  @IsString()
  @Length(10, 200, { message: PASSWORD_LENGTH })
  password!: string;
}

export class ChangePasswordRequest {
  @IsString()
  @Length(1, 200)
  current!: string;

  @IsString()
  @Length(10, 200, { message: PASSWORD_LENGTH })
  next!: string;
}

/** Who is signed in. */
export interface Me {
  id: string;
  login: string;
  name: string;
  /** Whether they may begin courses of their own. */
  mayCreateCourses: boolean;
}

/** A browser in which one is signed in. */
export interface SessionView {
  id: string;
  /** "Firefox on Linux"; empty where that is not known. */
  browser: string;
  /** Instants, as ISO 8601 writes them. */
  since: string;
  /** When it was used last, to some minutes. */
  lastUsed: string;
  /** Whether it is the one that asks. */
  isHere: boolean;
}

/** Whose address it is with which a password is chosen. */
export type LinkOwner = Pick<Me, 'name' | 'login'>;

/** Somebody of the demo whom one can be with one click. */
export interface DemoPerson {
  login: string;
  name: string;
  role: CourseRole;
}
