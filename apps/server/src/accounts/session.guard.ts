import {
  type CanActivate,
  type ExecutionContext,
  Injectable,
  SetMetadata,
  UnauthorizedException,
  createParamDecorator,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { type Me } from '@sobrin/contracts';
import { type Request } from 'express';
import { REQUEST_HEADER, SESSION_COOKIE } from '../platform/config';
import { refuse } from '../platform/refusal';

const PUBLIC = 'sobrin:public';
/** A route that needs no sign-in. */
export const Public = () => SetMetadata(PUBLIC, true);
export const isPublic = (reflector: Reflector, context: ExecutionContext): boolean =>
  reflector.getAllAndOverride<boolean | undefined>(PUBLIC, [context.getHandler(), context.getClass()]) ?? false;

export interface SignedRequest extends Request {
  /** Who sent it; null where nobody is signed in. */
  me: Me | null;
  /** Whether the session goes on, for what lasts longer than a request. */
  isSignedIn: () => Promise<boolean>;
}
/** The person who is signed in. */
export const CurrentUser = createParamDecorator(
  (_data: unknown, context: ExecutionContext): Me => context.switchToHttp().getRequest<SignedRequest>().me!,
);

/** A cookie of a request. One that a client made into something else than a text is none. */
export function cookieOf(request: Request, name: string): string | undefined {
  const value = (request.cookies as Record<string, unknown> | undefined)?.[name];
  return typeof value === 'string' ? value : undefined;
}
export const tokenOf = (request: Request): string | undefined => cookieOf(request, SESSION_COOKIE);

/** Asks every request for a session, and every change for the header that only our own pages send. */
@Injectable()
export class SessionGuard implements CanActivate {
  constructor(private readonly reflector: Reflector) {}

  canActivate(context: ExecutionContext): boolean {
    const request = context.switchToHttp().getRequest<SignedRequest>();
    if (!['GET', 'HEAD', 'OPTIONS'].includes(request.method) && !request.headers[REQUEST_HEADER])
      throw refuse.forbidden(`A change needs the header "${REQUEST_HEADER}".`);
    if (isPublic(this.reflector, context)) return true;
    if (!request.me)
      throw new UnauthorizedException({
        message: 'You are not signed in, or your session has ended. Sign in again: nothing is lost.',
      });
    return true;
  }
}
