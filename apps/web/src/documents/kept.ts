import { type UseStore, createStore, del, entries, set } from 'idb-keyval';

/**
 * What this browser keeps of work that the server does not have yet.
 *
 * A change is committed as soon as it is asked for: left to itself the browser commits when the page has heard that the
 * change went well, which a page that is busy, and then closed, never does (Indexed Database API 3.0, 2.7.1).
 */
function opened(): UseStore {
  const plain = createStore('keyval-store', 'keyval');
  return (mode, use) =>
    plain(mode, (store) => {
      const done = use(store);
      if (mode === 'readwrite') store.transaction.commit();
      return done;
    });
}
let store: UseStore | undefined;
const theStore = (): UseStore => (store ??= opened());

export const keep = (key: string, value: object): Promise<void> => set(key, value, theStore());

export const letGo = (key: string): Promise<void> => del(key, theStore());

/** All that is kept. A browser that keeps nothing, or lets nobody look, has nothing left. */
export async function allKept<T>(): Promise<[string, T][]> {
  try {
    return await entries<string, T>(theStore());
  } catch {
    return [];
  }
}
