import { type INestApplication } from '@nestjs/common';
import { type Me } from '@sobrin/contracts';
import request, { type Test as Request } from 'supertest';
import { type App } from 'supertest/types';
import { REQUEST_HEADER } from '../platform/config';
import { migrate } from '../platform/database';
import { databaseUrl, onServer } from './server';
import { applicationOn } from './template';

/** A real Sobrin on a database of its own, filled with the demo. */
export interface TestApplication {
  app: INestApplication<App>;
  /** Signs a demo person in; the returned functions carry the session. */
  as(login: string): Promise<Person>;
  /** Another server on the same database. */
  again(): Promise<TestApplication>;
  close(): Promise<void>;
}
export interface Person {
  me: Me;
  get(path: string): Request;
  send(method: 'post' | 'put' | 'patch' | 'delete', path: string, body?: object): Request;
}

export async function startApplication(): Promise<TestApplication> {
  const name = `${process.env.TEST_TEMPLATE}_${process.pid}_${Date.now()}`;
  await onServer(`CREATE DATABASE ${name} TEMPLATE ${process.env.TEST_TEMPLATE}`);
  return closing(name);
}

/** The database goes with the application. */
async function closing(name: string): Promise<TestApplication> {
  const first = await runningOn(name);
  return {
    ...first,
    close: async () => {
      await first.close();
      await onServer(`DROP DATABASE ${name} WITH (FORCE)`);
    },
  };
}

/** The same on what pg_dump wrote of an older one, brought up to date. */
export async function applicationOnDump(sql: string): Promise<TestApplication> {
  const name = `dump_${process.pid}_${Date.now()}`;
  await onServer(`CREATE DATABASE ${name}`);
  await onServer(sql, name);
  process.env.DATABASE_URL = databaseUrl(name);
  await migrate();
  return closing(name);
}

async function runningOn(name: string): Promise<TestApplication> {
  const app = await applicationOn(name);
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
    again: () => runningOn(name),
    close: () => app.close(),
  };
}
