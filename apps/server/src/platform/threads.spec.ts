import { type HttpException } from '@nestjs/common';
import { emptyTopology } from '@sobrin/core/topology';
import { ThreadsService } from './threads.service';

const threads = new ThreadsService();
afterAll(() => threads.onModuleDestroy());

const stored = { kind: 'topology' as const, format: 1, newest: JSON.stringify(emptyTopology()), since: [] };
const wish = { format: 'svg' as const, width: 400, scheme: 'light' as const, date: '2026-11-30' };
const paint = (person: string) => threads.runFor(person, 'paint', { stored, wish });

test('who asks for many holds up nobody who asks for one', async () => {
  const done: string[] = [];
  const many = Array.from({ length: 12 }, () => paint('many').then(() => done.push('many')));
  await paint('one').then(() => done.push('one'));
  await Promise.all(many);
  expect(done).toHaveLength(13);
  // One of the many may run already, and one more may end in the same moment.
  expect(done.indexOf('one')).toBeLessThan(4);
});

test('nobody has more than so many waiting; when they are done more are taken, also after one that failed', async () => {
  const asked = Array.from({ length: 41 }, () => paint('greedy'));
  const refused = await Promise.allSettled(asked);
  expect(refused.filter(({ status }) => status === 'rejected')).toHaveLength(1);
  const { reason } = refused.at(-1) as { reason: HttpException };
  expect([reason.getStatus(), reason.message]).toEqual([429, expect.stringMatching(/not done yet/)]);
  await expect(threads.runFor('greedy', 'paint', { stored: { ...stored, newest: 'no JSON' }, wish })).rejects.toThrow();
  expect(Buffer.from(await paint('greedy')).toString()).toMatch(/^<svg|^<\?xml/);
});
