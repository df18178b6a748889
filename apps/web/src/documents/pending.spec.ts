import 'fake-indexeddb/auto';
import { keys, set } from 'idb-keyval';
import { TAB, forget, keepPending, orphansOf } from './pending';

const waiting = [{ kind: 'removeDevices' as const, ids: ['a'] }];

test('what this tab has unsaved is its own; what closed tabs left is found, by document', async () => {
  await keepPending('doc', { sent: null, waiting, base: 3 });
  await set('unsaved doc gone-tab', { sent: null, waiting, base: 3 });
  await set('unsaved other gone-tab', { sent: null, waiting, base: 3 });
  const found = await orphansOf('doc');
  expect(found.map((orphan) => orphan.key)).toEqual(['unsaved doc gone-tab']);
  expect(found[0]!.pending.waiting).toEqual(waiting);
  await forget(found[0]!);
  expect(await orphansOf('doc')).toEqual([]);
});

test('nothing is kept when everything is confirmed', async () => {
  await keepPending('doc', { sent: null, waiting: [], base: 3 });
  expect((await keys()).map(String)).not.toContain(`unsaved doc ${TAB}`);
});

test('a browser that lets nobody look has nothing left, and hinders nobody', async () => {
  jest.spyOn(IDBFactory.prototype, 'open').mockImplementation(() => {
    throw new DOMException('Not allowed.', 'SecurityError');
  });
  jest.resetModules();
  const pending = await import('./pending');
  expect([await pending.orphansOf('doc'), await pending.isPendingElsewhere('doc')]).toEqual([[], false]);
});
