import { IsString, Length } from 'class-validator';

export type Role = 'instructor' | 'student';

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

/** Who is signed in. */
export interface Me {
  id: string;
  login: string;
  name: string;
  role: Role;
}

/** Somebody of the demo whom one can be with one click. */
export interface DemoPerson {
  login: string;
  name: string;
  role: Role;
}
