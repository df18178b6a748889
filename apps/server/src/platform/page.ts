import { type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import helmet from 'helmet';
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import sirv from 'sirv';
import { config } from './config';

/** What stands in the built page where each answer has a word of its own. */
const PLACE = /SOBRIN_NONCE/g;

interface Pages {
  use(handler: RequestHandler): unknown;
  use(place: string, handler: RequestHandler): unknown;
}

const nonceOf = (response: object): string => (response as Response).locals.nonce as string;

/** Headers that keep a page from doing what Sobrin's own never does (CSP Level 3 and others). */
export function protectPages(server: Pages): void {
  server.use((_request: Request, response: Response, next: NextFunction) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    response.setHeader('Permissions-Policy', 'camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=()');
    next();
  });
  const policyWith = (styles: string | ((request: object, response: object) => string)) => ({
    directives: {
      upgradeInsecureRequests: null,
      'worker-src': ["'self'", 'blob:'],
      'style-src': ["'self'", styles],
      'font-src': ["'self'"],
      'img-src': ["'self'", 'data:'],
    },
  });
  server.use(
    helmet({
      // Plain http on loopback; where a proxy with TLS stands in front, browsers are told to stay with it.
      strictTransportSecurity: config.proxies > 0 && { maxAge: 180 * 86_400 },
      // The style library writes its rules into the page, marked by a word that nobody else knows.
      contentSecurityPolicy: policyWith((_request, response) => `'nonce-${nonceOf(response)}'`),
    }),
  );
  // The page of the API is a package's, which knows of no such word. It shows nothing of anybody.
  server.use('/api/docs', helmet.contentSecurityPolicy(policyWith("'unsafe-inline'")));
}

/** The built interface: files as they are, and its one page for every other path that is not the API's. */
export function serveInterface(server: Pages): void {
  const file = path.join(config.webFolder, 'index.html');
  if (!existsSync(file)) return;
  const page = readFileSync(file, 'utf8');
  server.use((request: Request, response: Response, next: NextFunction) => {
    const isOfApi = request.path === '/api' || request.path.startsWith('/api/');
    const isFile = path.extname(request.path) !== '' && request.path !== '/index.html';
    if (!['GET', 'HEAD'].includes(request.method) || isOfApi || isFile) return next();
    // Its word is good for one answer.
    response.setHeader('Cache-Control', 'no-store');
    response.type('html').send(page.replace(PLACE, nonceOf(response)));
  });
  server.use(
    sirv(config.webFolder, {
      brotli: true,
      setHeaders: (response, pathname) =>
        response.setHeader(
          'Cache-Control',
          pathname.startsWith('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
        ),
    }),
  );
}
