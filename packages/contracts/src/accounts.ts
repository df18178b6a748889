import { IsOptional, IsString, Length } from 'class-validator';
import { type CourseRole } from './courses';

const PASSWORD_LENGTH = 'A password has at least 10 characters and at most 200.';

const CODE_LENGTH = 'A code has 6 digits; a spare code has 10 letters and digits.';

export class SignInRequest {
  @IsString()
  @Length(1, 80)
  login!: string;

  @IsString()
  @Length(1, 200)
  password!: string;

  /** Of the second factor, where there is one. */
  @IsOptional()
  @IsString()
  @Length(6, 20, { message: CODE_LENGTH })
  code?: string;
}

export class CodeRequest {
  @IsString()
  @Length(6, 20, { message: CODE_LENGTH })
  code!: string;
}

/** What changes how one signs in wants the password once more. */
export class PasswordRequest {
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

/** A refusal of a sign-in for which a code is asked. */
export interface CodeWanted {
  message: string;
  needsCode: true;
}

/** Whether codes are asked for beside the password, and how many spare ones are left. */
export interface SecondFactorView {
  isOn: boolean;
  spareCodes: number;
}
/** A secret for a program that makes codes: as text, and as the address that such programs read (otpauth). */
export interface SecondFactorSecret {
  secret: string;
  address: string;
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
