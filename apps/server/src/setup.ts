import { type INestApplication, ValidationPipe } from '@nestjs/common';
import { type NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import compression from 'compression';
import cookieParser from 'cookie-parser';
import { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import path from 'node:path';
import sirv from 'sirv';
import { AccountsService } from './accounts/accounts.service';
import { checkSettings, config } from './platform/config';
import { requestReader } from './platform/request-reader';
import { requestSchemas } from './platform/openapi';

/** Everything around the modules that the server and its tests share. */
export function setup(app: INestApplication): void {
  checkSettings();
  const server = app as NestExpressApplication;
  server.disable('x-powered-by');
  server.use(
    helmet({
      // Plain http on loopback; where a proxy with TLS stands in front, browsers are told to stay with it.
      strictTransportSecurity: config.proxies > 0 && { maxAge: 180 * 86_400 },
      contentSecurityPolicy: {
        directives: {
          upgradeInsecureRequests: null,
          'worker-src': ["'self'", 'blob:'],
          'style-src': ["'self'", "'unsafe-inline'"],
          'font-src': ["'self'"],
          'img-src': ["'self'", 'data:'],
        },
      },
    }),
  );
  server.set('trust proxy', config.proxies);
  server.use((_request: Request, response: Response, next: NextFunction) => {
    response.setHeader('Permissions-Policy', 'camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=()');
    next();
  });
  // What a person is answered is that person's: no browser or proxy keeps it, but where a route says so.
  server.use('/api', (_request: Request, response: Response, next: NextFunction) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  server.use(compression());
  server.use(cookieParser());
  server.use('/api', requestReader(server.get(AccountsService)));
  server.setGlobalPrefix('api');
  server.useGlobalPipes(
    new ValidationPipe({ whitelist: true, forbidNonWhitelisted: true, transform: true, stopAtFirstError: true }),
  );
  server.enableShutdownHooks();
  const document = SwaggerModule.createDocument(
    server,
    new DocumentBuilder()
      .setTitle('Sobrin')
      .setDescription('The API that Sobrin’s own interface uses.')
      .setVersion('1')
      .build(),
  );
  document.components = { ...document.components, schemas: requestSchemas() };
  SwaggerModule.setup('api/docs', server, document, {
    jsonDocumentUrl: 'api/docs.json',
    customSiteTitle: 'Sobrin: the API',
    customCss: '.swagger-ui .topbar { display: none }',
  });
  serveInterface(server);
}

/** The built interface: files as they are, and its one page for every other path that is not the API's. */
function serveInterface(server: NestExpressApplication): void {
  const page = path.join(config.webFolder, 'index.html');
  if (!existsSync(page)) return;
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
  server.use((request: Request, response: Response, next: NextFunction) => {
    if (
      request.method !== 'GET' ||
      request.path === '/api' ||
      request.path.startsWith('/api/') ||
      path.extname(request.path)
    )
      return next();
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(page);
  });
}
