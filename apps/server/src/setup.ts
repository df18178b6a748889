import { type INestApplication, ValidationPipe } from '@nestjs/common';
import { type NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import compression from 'compression';
import cookieParser from 'cookie-parser';
import { type NextFunction, type Request, type Response } from 'express';
import { AccountsService } from './accounts/accounts.service';
import { checkSettings, config } from './platform/config';
import { protectPages, serveInterface } from './platform/page';
import { requestReader } from './platform/request-reader';
import { requestSchemas } from './platform/openapi';

/** Everything around the modules that the server and its tests share. */
export function setup(app: INestApplication): void {
  checkSettings();
  const server = app as NestExpressApplication;
  server.disable('x-powered-by');
  protectPages(server);
  server.set('trust proxy', config.proxies);
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
