import { type MessageEvent } from '@nestjs/common';
import { type Observable, from, interval, last, map, merge, mergeMap, takeUntil } from 'rxjs';
import { type DocumentsService } from './documents.service';

const BEAT_MS = 25_000;

/** Tells of every save of some documents as long as the connection lasts; first the revision of each as it is. */
export function liveEvents(
  documents: DocumentsService,
  ids: readonly string[],
  dataOf: (id: string, revision: number) => string,
): Observable<MessageEvent> {
  const later = merge(...ids.map((id) => documents.revisions(id).pipe(map((revision) => ({ id, revision })))));
  const now = from(ids).pipe(mergeMap((id) => documents.about(id).then(({ revision }) => ({ id, revision }))));
  return merge(
    merge(now, later).pipe(map(({ id, revision }): MessageEvent => ({ type: 'saved', data: dataOf(id, revision) }))),
    // Something has to come now and then, or what stands in between takes the connection for dead.
    interval(BEAT_MS).pipe(
      takeUntil(later.pipe(last(null, null))),
      map((): MessageEvent => ({ type: 'beat', data: '' })),
    ),
  );
}
