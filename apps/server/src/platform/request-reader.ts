import { ROUTES, type RouteName, routeOf } from '@sobrin/contracts';
import { type JsonBounds, excessOf } from '@sobrin/core/formats';
import { type NextFunction, type Request, type RequestHandler, type Response, text } from 'express';
import { type AccountsService } from '../accounts/accounts.service';
import { type SignedRequest, tokenOf } from '../accounts/session.guard';

interface BodyLimit extends JsonBounds {
  readonly bytes: number;
}

/** Requests that people who are not signed in may make with a body. */
const SIGN_IN: BodyLimit = { bytes: 4_000, depth: 2, values: 12 };
const SMALL: BodyLimit = { bytes: 20_000, depth: 6, values: 500 };
/** A file as text or as base64, which is a third longer than its bytes. */
const FILE: BodyLimit = { bytes: 15_000_000, depth: 2, values: 12 };
/** Documents, and the commands that change them. */
const DOCUMENT: BodyLimit = { bytes: 12_000_000, depth: 64, values: 1_000_000 };

const LIMITS: Partial<Record<RouteName, BodyLimit>> = {
  'POST auth/sign-in': SIGN_IN,
  'POST auth/demo-sign-in': SIGN_IN,
  'POST auth/link': SIGN_IN,
  'POST auth/enter': SIGN_IN,
  'POST auth/password': SIGN_IN,
  'POST courses/:id/roster': { bytes: 200_000, depth: 6, values: 5_000 },
  'POST courses/:id/labs/import': FILE,
  'POST labs/:id/files': FILE,
  'PATCH labs/:id': DOCUMENT,
  'POST my/labs/:id/upload': FILE,
  'POST my/labs/:id/attachments': FILE,
  'PUT my/labs/:id/answers': { bytes: 5_000_000, depth: 3, values: 1_000 },
  'POST documents/:id/changes': DOCUMENT,
  'POST documents/:id/aside': DOCUMENT,
};
const OPEN_TO_STRANGERS: ReadonlySet<RouteName> = new Set([
  'POST auth/sign-in',
  'POST auth/demo-sign-in',
  'POST auth/link',
  'POST auth/enter',
]);

const readers = new Map<number, RequestHandler>();
function readerOf(bytes: number): RequestHandler {
  const known = readers.get(bytes) ?? text({ type: 'application/json', limit: bytes });
  readers.set(bytes, known);
  return known;
}

/**
 * Finds out who sends a request and reads its body. Nothing is read of somebody who is not signed in, but what signing in
 * takes; and nothing is made of a text before it is seen to stay within what its route takes.
 */
export const requestReader =
  (accounts: AccountsService) =>
  async (request: Request, response: Response, next: NextFunction): Promise<void> => {
    const signed = request as SignedRequest;
    try {
      if (/%00|\0/.test(request.url))
        throw new BodyRefused(400, 'The address holds a character that cannot be stored.');
      const token = tokenOf(request);
      signed.me = (token && (await accounts.holder(token))) || null;
      signed.isSignedIn = async () => token !== undefined && (await accounts.holder(token)) !== null;
      const route = routeOf(request.method, request.path.replace(/^\//, ''));
      const takesBody = route !== null && ROUTES[route].body !== null;
      if (!takesBody || (!signed.me && !OPEN_TO_STRANGERS.has(route))) return next();
      const limit = LIMITS[route] ?? SMALL;
      await read(request, response, limit);
      request.body = typeof request.body === 'string' ? parsed(request.body, limit) : {};
      next();
    } catch (error) {
      next(error);
    }
  };

const read = (request: Request, response: Response, { bytes }: BodyLimit): Promise<void> =>
  new Promise((resolve, reject) => {
    readerOf(bytes)(request, response, (error?: unknown) => (error instanceof Error ? reject(error) : resolve()));
  });

/** What is wrong with a body, before anything is made of it. */
export class BodyRefused extends Error {
  constructor(
    readonly status: 400 | 413,
    message: string,
  ) {
    super(message);
  }
}

function parsed(body: string, limit: BodyLimit): unknown {
  const excess = excessOf(body, limit);
  if (excess?.of === 'character')
    throw new BodyRefused(
      400,
      'The request holds a character that cannot be stored (NUL, or half of a character). Nothing was stored.',
    );
  if (excess?.of === 'depth')
    throw new BodyRefused(400, `The request is nested deeper than ${limit.depth} levels. Nothing was stored.`);
  if (excess)
    throw new BodyRefused(
      413,
      `The request holds more than ${limit.values.toLocaleString('en')} values. Nothing was stored.`,
    );
  try {
    return JSON.parse(body);
  } catch {
    throw new BodyRefused(400, 'The request is no JSON. Nothing was stored.');
  }
}
