import { type INestApplication } from '@nestjs/common';
import { Test } from '@nestjs/testing';
import { type Me } from '@sobrin/contracts';
import { Client } from 'pg';
import request, { type Test as Request } from 'supertest';
import { type App } from 'supertest/types';
import { AppModule } from '../app.module';
import { REQUEST_HEADER } from '../platform/config';
import { migrate } from '../platform/database';
import { seedDemo } from '../platform/seed';
import { setup } from '../setup';

/** A real Sobrin on a database of its own, filled with the demo. */
export interface TestApplication {
  app: INestApplication<App>;
  /** Signs a demo person in; the returned functions carry the session. */
  as(login: string): Promise<Person>;
  close(): Promise<void>;
}
export interface Person {
  me: Me;
  get(path: string): Request;
  send(method: 'post' | 'put' | 'patch' | 'delete', path: string, body?: object): Request;
}

export async function startApplication(): Promise<TestApplication> {
  const server = process.env.TEST_DATABASE_URL;
  if (!server) throw new Error('TEST_DATABASE_URL is not set: run these tests with npm run test:server.');
  const name = `t_${process.pid}_${Date.now()}`;
  await onServer(server, `CREATE DATABASE ${name}`);
  const url = new URL(server);
  url.pathname = `/${name}`;
  Object.assign(process.env, {
    DATABASE_URL: url.toString(),
    SOBRIN_DEMO: '1',
    SOBRIN_WEB: '/nowhere',
    LOG_LEVEL: 'silent',
  });
  await migrate();
  const module = await Test.createTestingModule({ imports: [AppModule] }).compile();
  const app = module.createNestApplication<INestApplication<App>>({ bodyParser: false, logger: false });
  setup(app);
  await app.init();
  await seedDemo(app, new Date());
  const http = app.getHttpServer();
  return {
    app,
    as: async (login) => {
      const signedIn = await request(http)
        .post('/api/auth/demo-sign-in')
        .set(REQUEST_HEADER, '1')
        .send({ login })
        .expect(200);
      const cookie = signedIn.headers['set-cookie'] as unknown as string[];
      return {
        me: signedIn.body as Me,
        get: (path) => request(http).get(`/api/${path}`).set('Cookie', cookie),
        send: (method, path, body) =>
          request(http)[method](`/api/${path}`).set('Cookie', cookie).set(REQUEST_HEADER, '1').send(body),
      };
    },
    close: async () => {
      await app.close();
      await onServer(server, `DROP DATABASE ${name} WITH (FORCE)`);
    },
  };
}

async function onServer(url: string, sql: string): Promise<void> {
  const client = new Client({ connectionString: url });
  await client.connect();
  try {
    await client.query(sql);
  } finally {
    await client.end();
  }
}
