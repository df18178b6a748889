import { type INestApplication } from '@nestjs/common';
import { Test } from '@nestjs/testing';
import { type App } from 'supertest/types';
import { DataSource } from 'typeorm';
import { AppModule } from '../app.module';
import { migrate } from '../platform/database';
import { seedDemo } from '../platform/seed';
import { setup } from '../setup';
import { refuseSecondConnections } from './one-connection';
import { databaseUrl, onServer } from './server';

/** The database that the tests of each file get a copy of. */
export const TEMPLATE = `t_${process.pid}`;

/** A Sobrin on a database of this server. */
export async function applicationOn(name: string): Promise<INestApplication<App>> {
  Object.assign(process.env, {
    DATABASE_URL: databaseUrl(name),
    SOBRIN_DEMO: '1',
    SOBRIN_WEB: '/nowhere',
    LOG_LEVEL: 'silent',
  });
  const module = await Test.createTestingModule({ imports: [AppModule] }).compile();
  const app = module.createNestApplication<INestApplication<App>>({ bodyParser: false, logger: false });
  setup(app);
  refuseSecondConnections(app.get(DataSource));
  return app.init();
}

/** Before all tests: a database is migrated and filled with the demo, once. */
export default async function makeTemplate(): Promise<void> {
  await onServer(`CREATE DATABASE ${TEMPLATE}`);
  process.env.DATABASE_URL = databaseUrl(TEMPLATE);
  await migrate();
  const app = await applicationOn(TEMPLATE);
  await seedDemo(app, new Date());
  await app.close();
  process.env.TEST_TEMPLATE = TEMPLATE;
}
