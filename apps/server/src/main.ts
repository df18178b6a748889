import { NestFactory } from '@nestjs/core';
import { type Server } from 'node:http';
import { Logger } from 'nestjs-pino';
import { AccountsService } from './accounts/accounts.service';
import { LinksService } from './accounts/links.service';
import { AppModule } from './app.module';
import { config } from './platform/config';
import { migrate } from './platform/database';
import { DEMO_INSTRUCTOR, DEMO_PASSWORD, DEMO_STUDENT, seedDemo } from './platform/seed';
import { setup } from './setup';

/** Longer than proxies keep idle connections to what is behind them (a minute is usual). */
const KEPT_MS = 75_000;

async function main(): Promise<void> {
  await migrate();
  const app = await NestFactory.create(AppModule, {
    logger: ['error', 'warn'],
    bodyParser: false,
    forceCloseConnections: true,
  });
  app.useLogger(app.get(Logger));
  setup(app);
  await app.init();
  if (config.demo && (await seedDemo(app, new Date())))
    console.log('Filled the database with the demo of Kestrel Ridge.');
  // Browsers and proxies keep connections longer than Node's five seconds: one that is closed just as it is used again fails
  // a request that nobody can tell from one that came to nothing.
  (app.getHttpServer() as Server).keepAliveTimeout = KEPT_MS;
  await app.listen(config.port, config.host);
  // Whoever started the server waits for this line or this message; a server whose starter is gone ends as well.
  process.send?.('ready');
  process.once('disconnect', () => process.kill(process.pid, 'SIGTERM'));
  console.log(`Sobrin is ready at http://${config.host}:${config.port}`);
  // Told at every start until it is used: what is told before the port is taken, or on a screen that is gone, is lost.
  const first = config.demo ? null : await app.get(AccountsService).firstInstructor();
  if (first) {
    const links = await app.get(LinksService).make([first.id]);
    console.log(
      `First sign-in: open http://${config.host}:${config.port}${links.get(first.id)} and choose a password for "${first.login}". It is good once, for seven days.`,
    );
  }
  if (config.demo)
    console.log(
      `Demo sign-ins: ${DEMO_INSTRUCTOR.login} (instructor), ${DEMO_STUDENT} (student), password ${DEMO_PASSWORD}; every demo person also has a button on the sign-in page.`,
    );
}

main().catch((error: unknown) => {
  console.error(startError(error));
  process.exit(1);
});

/** One sentence for what goes wrong at the start. */
function startError(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'EADDRINUSE')
    return `Port ${config.port} is taken by another program. Choose another: PORT=8585 npm start`;
  if (code === 'EACCES')
    return `Port ${config.port} may not be used by this user. Choose one above 1023: PORT=8484 npm start`;
  if (code === 'ECONNREFUSED' || code === 'ENOTFOUND')
    return 'The database does not answer. Check DATABASE_URL, or leave it unset and let Sobrin run its own.';
  if (code === '28P01' || code === '28000')
    return 'The database refuses the sign-in in DATABASE_URL. Check the name and password.';
  if (code === '53100' || code === 'ENOSPC')
    return 'The disk is full: the database cannot write. Free some space, then start again.';
  if (code === '3D000')
    return 'The database is not there. Check the name in DATABASE_URL; if Sobrin runs its own, it is damaged: start over with npm start -- --fresh (a copy of its files is kept).';
  if (code !== undefined && /^(42|XX|58)/.test(code))
    return `The database is damaged, or something else changed it: ${message}. Restore a copy, name another with DATABASE_URL, or start over with npm start -- --fresh (a copy of its data is kept).`;
  return `Sobrin could not start: ${message || String(error)}`;
}
