import { newId } from '../api/new-id';
import { allKept, keep, letGo } from './kept';

/** A save on its way: what the server gets, with the revision it was made on. */
export interface Save<C = object> {
  save: string;
  base: number;
  commands: C[];
}

/** What a tab has not yet had confirmed, kept in this browser until it is. */
export interface Pending<C = object> {
  /** The save whose answer is awaited; it is sent again as it is. */
  sent: Save<C> | null;
  /** Commands made after it, and the revision they were made on where nothing is on its way. */
  waiting: C[];
  base: number;
}

const PREFIX = 'unsaved';
const keyOf = (documentId: string, tab: string): string => `${PREFIX} ${documentId} ${tab}`;
const lockOf = (tab: string): string => `sobrin-tab-${tab}`;

/** One id for each tab; the lock tells other tabs that it is still open. */
export const TAB = newId();
export function holdTabLock(): void {
  if ('locks' in navigator) void navigator.locks.request(lockOf(TAB), () => new Promise(() => {}));
}

export async function keepPending(documentId: string, pending: Pending): Promise<void> {
  const key = keyOf(documentId, TAB);
  if (!pending.sent && !pending.waiting.length) await letGo(key);
  else await keep(key, pending);
}

export interface Orphan {
  key: string;
  pending: Pending;
}

/** What tabs that are closed by now left unsaved. */
export async function orphansOf(documentId: string): Promise<Orphan[]> {
  const open =
    'locks' in navigator ? new Set((await navigator.locks.query()).held?.map((info) => info.name)) : new Set<string>();
  return (await allKept<Pending>()).flatMap(([key, pending]) => {
    const [prefix, id, tab] = String(key).split(' ');
    return prefix === PREFIX && id === documentId && tab !== undefined && tab !== TAB && !open.has(lockOf(tab))
      ? [{ key, pending }]
      : [];
  });
}

/** Whether other tabs, open or closed, have anything that is not stored yet. */
export const isPendingElsewhere = async (documentId: string): Promise<boolean> =>
  (await allKept<Pending>()).some(([key]) => {
    const [prefix, id, tab] = String(key).split(' ');
    return prefix === PREFIX && id === documentId && tab !== TAB;
  });

/** Keeps what of it is not stored yet; whoever holds it sees the rest. */
export async function keepOrphan(orphan: Orphan, pending: Pending): Promise<void> {
  orphan.pending = pending;
  await keep(orphan.key, pending);
}

export const forget = ({ key }: Orphan): Promise<void> => letGo(key);
