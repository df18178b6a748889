import { ApiError } from '../api/client';
import { createPartStore } from './part-store';

describe('a part of a lab', () => {
  const settle = async (): Promise<void> => {
    for (let turn = 0; turn < 20; turn++) await Promise.resolve();
  };
  test('while one change is on its way the newest waits, and revisions follow each other', async () => {
    const sent: [number, string][] = [];
    const store = createPartStore({ value: ['0'], revision: 4 }, (base, next) => {
      sent.push([base, next.join('')]);
      return Promise.resolve({ revision: base + 1 });
    });
    for (const one of ['a', 'b', 'c']) store.getState().change([...store.getState().value, one]);
    await settle();
    expect(sent).toEqual([
      [4, '0a'],
      [5, '0abc'],
    ]);
    expect(store.getState().save).toEqual({ kind: 'saved' });
  });
  test('what is refused stays with its reasons and can be undone', async () => {
    let refuse = true;
    const problems = [{ place: 'brief › groups › 0', text: 'no' }];
    const store = createPartStore({ value: ['0'], revision: 0 }, (base) =>
      refuse ? Promise.reject(new ApiError(422, 'refused', problems)) : Promise.resolve({ revision: base + 1 }),
    );
    store.getState().change(['wrong']);
    await settle();
    expect(store.getState().save).toEqual({ kind: 'refused', text: 'refused', problems, stale: false });
    refuse = false;
    store.getState().undo();
    await settle();
    expect([store.getState().value, store.getState().save.kind]).toEqual([['0'], 'saved']);
    store.getState().redo();
    expect(store.getState().value).toEqual(['wrong']);
  });
  test('what is sent is told together with what the server had confirmed last', async () => {
    const seen: [string, string][] = [];
    const store = createPartStore({ value: 'a', revision: 0 }, (base, next, confirmed) => {
      seen.push([next, confirmed]);
      return Promise.resolve({ revision: base + 1 });
    });
    store.getState().change('b');
    await settle();
    store.getState().change('c');
    await settle();
    expect(seen).toEqual([
      ['b', 'a'],
      ['c', 'b'],
    ]);
  });
});
