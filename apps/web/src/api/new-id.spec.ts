import { readableId } from './new-id';

test('ids of new things begin readable and end random, and no two are the same', () => {
  expect(readableId('SW-1')).toMatch(/^sw-1-[a-z0-9]{5}$/);
  expect(readableId('Ticket desk, left')).toMatch(/^ticket-desk-left-[a-z0-9]{5}$/);
  expect(readableId('стол')).toMatch(/^x-[a-z0-9]{5}$/);
  expect(readableId('x'.repeat(80)).length).toBeLessThanOrEqual(64);
  expect(new Set(Array.from({ length: 500 }, () => readableId('link'))).size).toBe(500);
});
