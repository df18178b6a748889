import { type MessageEvent } from '@nestjs/common';
import { type Me } from '@sobrin/contracts';
import {
  EMPTY,
  type Observable,
  concatMap,
  filter,
  finalize,
  from,
  interval,
  last,
  map,
  merge,
  mergeMap,
  takeUntil,
} from 'rxjs';
import { refuse } from '../platform/refusal';
import { type DocumentsService } from './documents.service';

const BEAT_MS = 25_000;

/** Live lines that one person may have open at once: more than any browser opens. */
export const MOST_LINES = 60;
const open = new Map<string, number>();

/** Tells of every save of some documents as long as the connection lasts; first the revision of each as it is. */
export function liveEvents(
  { id: person }: Me,
  documents: DocumentsService,
  ids: readonly string[],
  dataOf: (id: string, revision: number) => string,
  /** Whether the person may still hear of them; asked with every beat. */
  isAllowed: () => Promise<boolean>,
  /** What else is told on the line. */
  more: Observable<MessageEvent> = EMPTY,
  beatMs = BEAT_MS,
): Observable<MessageEvent> {
  const later = merge(...ids.map((id) => documents.revisions(id).pipe(map((revision) => ({ id, revision })))));
  const now = from(ids).pipe(mergeMap((id) => documents.about(id).then(({ revision }) => ({ id, revision }))));
  const lines = (by: number): number => {
    const count = (open.get(person) ?? 0) + by;
    if (count) open.set(person, count);
    else open.delete(person);
    return count;
  };
  if ((open.get(person) ?? 0) >= MOST_LINES)
    throw refuse.tooMany(`You have ${MOST_LINES} pages open that follow drawings: close some of them.`);
  lines(1);
  const beats = interval(beatMs);
  return merge(
    more,
    merge(now, later).pipe(map(({ id, revision }): MessageEvent => ({ type: 'saved', data: dataOf(id, revision) }))),
    // Something has to come now and then, or what stands in between takes the connection for dead.
    beats.pipe(
      takeUntil(later.pipe(last(null, null))),
      map((): MessageEvent => ({ type: 'beat', data: '' })),
    ),
  ).pipe(
    takeUntil(
      beats.pipe(
        concatMap(isAllowed),
        filter((allowed) => !allowed),
      ),
    ),
    finalize(() => void lines(-1)),
  );
}
