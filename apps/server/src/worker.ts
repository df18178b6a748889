import { NestFactory } from '@nestjs/core';
import { Logger } from 'nestjs-pino';
import os from 'node:os';

// Said before anything else is read: it decides how many threads there are.
process.env.SOBRIN_ROLE = 'worker';

/** A process that does what waits in the queue and answers nobody: as many as one likes, on any machine that reaches the database. */
async function main(): Promise<void> {
  const { AppModule } = await import('./app.module');
  const { checkSettings } = await import('./platform/config');
  const { migrate } = await import('./platform/database');
  const { NICE } = await import('./platform/threads.service');
  // People who draw, and the database, come first.
  os.setPriority(NICE);
  checkSettings();
  await migrate();
  const app = await NestFactory.createApplicationContext(AppModule, { logger: ['error', 'warn'] });
  app.useLogger(app.get(Logger));
  app.enableShutdownHooks();
  // A worker whose starter is gone ends as well.
  process.send?.('ready');
  process.once('disconnect', () => process.kill(process.pid, 'SIGTERM'));
  console.log('A worker is ready.');
}

main().catch((error: unknown) => {
  console.error(`The worker could not start: ${error instanceof Error ? error.message : String(error)}`);
  process.exit(1);
});
