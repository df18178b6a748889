import { Body, Controller, HttpCode, NotFoundException, Req, Res, UnauthorizedException } from '@nestjs/common';
import {
  ChangePasswordRequest,
  CodeRequest,
  type CodeWanted,
  type DemoPerson,
  DemoSignInRequest,
  EnterRequest,
  type LinkOwner,
  LinkRequest,
  type Me,
  PasswordRequest,
  type SecondFactorSecret,
  type SecondFactorView,
  type SessionView,
  SignInRequest,
} from '@sobrin/contracts';
import { type Request, type Response } from 'express';
import { Needs, TheObject } from '../access/access.guard';
import { BROWSER_COOKIE, SESSION_COOKIE, config } from '../platform/config';
import { refuse } from '../platform/refusal';
import { type Account } from './account.entity';
import { AccountsService, KNOWN_DAYS, loginOf, meOf } from './accounts.service';
import { GuessesService } from './guesses.service';
import { LinksService } from './links.service';
import { weaknessOf } from './passwords';
import { RecordsService } from './records.service';
import { SecondFactorService } from './second-factor.service';
import { CurrentUser, Public, type SignedRequest, cookieOf, tokenOf } from './session.guard';
import { Answers } from '../platform/route';

@Controller()
export class AccountsController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly guesses: GuessesService,
    private readonly links: LinksService,
    private readonly records: RecordsService,
    private readonly second: SecondFactorService,
  ) {}

  @Public()
  @Answers('POST auth/sign-in')
  @HttpCode(200)
  async signIn(
    @Body() { login, password, code }: SignInRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Me> {
    const { req: request } = response;
    const browser = cookieOf(request, BROWSER_COOKIE);
    const account = await this.guesses
      .count(
        {
          of: loginOf(login),
          browser: browser !== undefined && (await this.accounts.knows(browser, login)) ? browser : undefined,
          address: addressOf(request),
        },
        async () => {
          const found = await this.accounts.verify(login, password);
          if (!found || code === undefined || !(await this.second.isOn(found.id))) return found;
          return (await this.second.use(found.id, found.login, code)) ? found : null;
        },
      )
      .catch(async (error: unknown) => {
        await this.records.write('sign-in refused', loginOf(login), request, 'too many tries');
        throw error;
      });
    if (!account) {
      await this.records.write('sign-in refused', loginOf(login), request);
      throw new UnauthorizedException({
        message:
          code === undefined
            ? 'Sign-in name and password do not go together. Check both; capital letters count in the password.'
            : 'Sign-in name, password and code do not go together. Type the code that is shown now: each is good once.',
      });
    }
    if (code === undefined && (await this.second.isOn(account.id)))
      throw new UnauthorizedException({
        message: 'Now the code of your second factor, or one of your spare codes.',
        needsCode: true,
      } satisfies CodeWanted);
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

  @Answers('POST auth/password')
  @HttpCode(204)
  async changePassword(
    @CurrentUser() me: Me,
    @Body() { current, next }: ChangePasswordRequest,
    @Req() request: SignedRequest,
  ): Promise<void> {
    const weakness = weaknessOf(next, [me.login, me.name]);
    if (weakness !== null) throw refuse.input(`${weakness} Nothing was changed.`);
    const change = async (): Promise<true | null> =>
      (await this.accounts.changePassword(me, current, next, tokenOf(request)!)) || null;
    if (!(await this.guesses.count({ of: me.id, address: addressOf(request) }, change)))
      throw refuse.input('The present password is not right. Nothing was changed.');
    await this.records.write('password changed', me.login, request);
  }

  /** Whose address it is with which a password is chosen. */
  @Public()
  @Answers('POST auth/link')
  @HttpCode(200)
  async linkOwner(@Body() { token }: LinkRequest): Promise<LinkOwner> {
    const { name, login } = await this.ownerOf(token);
    return { name, login };
  }

  /** Chooses a password with such an address, and signs in. */
  @Public()
  @Answers('POST auth/enter')
  @HttpCode(200)
  async enterByLink(
    @Body() { token, password }: EnterRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Me> {
    const account = await this.ownerOf(token);
    const weakness = weaknessOf(password, [account.login, account.name]);
    if (weakness !== null) throw refuse.input(weakness);
    if (!(await this.links.use(token, account, password))) throw usedUp();
    await this.records.write('password chosen', account.login, response.req);
    return this.enter(account, response);
  }

  private async ownerOf(token: string): Promise<Account> {
    const account = await this.links.ownerOf(token);
    if (!account) throw usedUp();
    return account;
  }

  @Answers('GET auth/second-factor')
  secondFactor(@CurrentUser() me: Me): Promise<SecondFactorView> {
    return this.second.of(me);
  }

  /** Begins to set one up. Students whose telephone is lost would have nobody but whoever runs Sobrin: it is for those who teach. */
  @Answers('POST auth/second-factor')
  @HttpCode(200)
  async beginSecondFactor(
    @CurrentUser() me: Me,
    @Body() { password }: PasswordRequest,
    @Req() request: SignedRequest,
  ): Promise<SecondFactorSecret> {
    if (!me.mayCreateCourses) throw refuse.forbidden('A second factor is for those who may begin courses.');
    await this.mustKnow(me, password, request);
    return this.second.begin(me);
  }

  @Answers('PUT auth/second-factor')
  @HttpCode(200)
  async confirmSecondFactor(
    @CurrentUser() me: Me,
    @Body() { code }: CodeRequest,
    @Req() request: SignedRequest,
  ): Promise<{ spareCodes: string[] }> {
    const spareCodes = await this.second.confirm(me, code);
    await this.records.write('second factor on', me.login, request);
    return { spareCodes };
  }

  @Answers('POST auth/second-factor/end')
  @HttpCode(204)
  async endSecondFactor(
    @CurrentUser() me: Me,
    @Body() { password }: PasswordRequest,
    @Req() request: SignedRequest,
  ): Promise<void> {
    await this.mustKnow(me, password, request);
    await this.second.end(me.id);
    await this.records.write('second factor off', me.login, request);
  }

  private async mustKnow(me: Me, password: string, request: Request): Promise<void> {
    const right = await this.guesses.count({ of: me.id, address: addressOf(request) }, () =>
      this.accounts.verify(me.login, password),
    );
    if (!right) throw refuse.input('The password is not right. Nothing was changed.');
  }

  @Answers('GET auth/sessions')
  sessions(@CurrentUser() me: Me, @Req() request: SignedRequest): Promise<SessionView[]> {
    return this.accounts.sessionsOf(me, tokenOf(request)!);
  }

  @Needs('end', 'session')
  @Answers('DELETE auth/sessions/:id')
  @HttpCode(204)
  endSession(@TheObject() id: string): Promise<void> {
    return this.accounts.end(id);
  }

  /** Opens a session in this browser; the one that was there ends. */
  private async enter(account: Account, response: Response): Promise<Me> {
    const before = tokenOf(response.req);
    if (before) await this.accounts.close(before);
    const keep = (name: string, token: string, days: number): unknown =>
      response.cookie(name, token, {
        httpOnly: true,
        sameSite: 'strict',
        path: '/',
        maxAge: days * 86_400_000,
        secure: response.req.secure,
      });
    keep(
      SESSION_COOKIE,
      await this.accounts.open(account, response.req.headers['user-agent'] ?? ''),
      config.session.days,
    );
    await this.records.write('signed in', account.login, response.req);
    keep(BROWSER_COOKIE, await this.accounts.remember(account, cookieOf(response.req, BROWSER_COOKIE)), KNOWN_DAYS);
    return meOf(account);
  }
}

const usedUp = (): NotFoundException =>
  new NotFoundException({
    message:
      'This address is used up, or too old, or not whole. If you have a password, sign in with it. Ask your instructor for a new one otherwise.',
  });

/** Where a request comes from; what proxies say of it is taken as far as the settings do. */
const addressOf = (request: Request): string => request.ip ?? '';
