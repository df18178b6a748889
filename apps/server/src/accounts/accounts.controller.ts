import { Body, Controller, HttpCode, Req, Res, UnauthorizedException } from '@nestjs/common';
import { Throttle } from '@nestjs/throttler';
import { ChangePasswordRequest, type DemoPerson, DemoSignInRequest, type Me, SignInRequest } from '@sobrin/contracts';
import { type Response } from 'express';
import { SESSION_COOKIE, config } from '../platform/config';
import { refuse } from '../platform/refusal';
import { type Account } from './account.entity';
import { AccountsService, loginOf } from './accounts.service';
import { CurrentUser, Public, type SignedRequest, tokenOf } from './session.guard';
import { Answers } from '../platform/route';

/** Guesses a minute for one account from one address: by the sign-in name, however it is written, or by who is signed in. */
const GUESSES = {
  default: {
    limit: 12,
    ttl: 60_000,
    getTracker: (request: Record<string, unknown>) => {
      const { ip, body, me } = request as unknown as Pick<SignedRequest, 'ip' | 'me'> & {
        body?: { login?: unknown };
      };
      return `${ip} ${me?.login ?? loginOf(String(body?.login))}`;
    },
  },
};

@Controller()
export class AccountsController {
  constructor(private readonly accounts: AccountsService) {}

  @Public()
  @Throttle(GUESSES)
  @Answers('POST auth/sign-in')
  @HttpCode(200)
  async signIn(
    @Body() { login, password }: SignInRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Me> {
    const account = await this.accounts.verify(login, password);
    if (!account)
      throw new UnauthorizedException({
        message: 'Sign-in name and password do not go together. Check both; capital letters count in the password.',
      });
    return this.enter(account, response);
  }

  @Public()
  @Answers('POST auth/demo-sign-in')
  @HttpCode(200)
  async demoSignIn(@Body() { login }: DemoSignInRequest, @Res({ passthrough: true }) response: Response): Promise<Me> {
    const account = config.demo ? await this.accounts.demoPerson(login) : null;
    if (!account) throw refuse.missing('demo person');
    return this.enter(account, response);
  }

  /** The people of the demo; an empty list where Sobrin runs for real. */
  @Public()
  @Answers('GET auth/demo')
  demo(): Promise<DemoPerson[]> {
    return config.demo ? this.accounts.demoPeople() : Promise.resolve([]);
  }

  /** Who is signed in; null where nobody is. */
  @Public()
  @Answers('GET auth/me')
  me(@Req() request: SignedRequest): { me: Me | null } {
    return { me: request.me ?? null };
  }

  @Public()
  @Answers('POST auth/sign-out')
  @HttpCode(204)
  async signOut(@Req() request: SignedRequest, @Res({ passthrough: true }) response: Response): Promise<void> {
    const token = tokenOf(request);
    if (token) await this.accounts.close(token);
    response.clearCookie(SESSION_COOKIE, { path: '/' });
  }

  @Throttle(GUESSES)
  @Answers('POST auth/password')
  @HttpCode(204)
  async changePassword(
    @CurrentUser() me: Me,
    @Body() { current, next }: ChangePasswordRequest,
    @Req() request: SignedRequest,
  ): Promise<void> {
    if (!(await this.accounts.changePassword(me, current, next, tokenOf(request)!)))
      throw refuse.input('The present password is not right. Nothing was changed.');
  }

  /** Opens a session in this browser; the one that was there ends. */
  private async enter(account: Account, response: Response): Promise<Me> {
    const before = tokenOf(response.req);
    if (before) await this.accounts.close(before);
    const token = await this.accounts.open(account);
    response.cookie(SESSION_COOKIE, token, {
      httpOnly: true,
      sameSite: 'strict',
      path: '/',
      maxAge: config.session.days * 86_400_000,
      secure: response.req.secure,
    });
    return { id: account.id, login: account.login, name: account.name, role: account.role };
  }
}
