import { Injectable, Logger } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type Me, type Present } from '@sobrin/contracts';
import { randomUUID } from 'node:crypto';
import { Observable, concatMap, filter, from, interval, map, merge } from 'rxjs';
import { DataSource } from 'typeorm';
import { SignalsService } from '../platform/signals.service';

const SEEN_EVERY_MS = 25_000;
/** A line of which nothing was seen for so long is gone with its server. */
const GONE_S = 75;

/** Who has a lab or one of its documents open, for all servers. */
@Injectable()
export class PresenceService {
  private readonly logger = new Logger('presence');

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    private readonly signals: SignalsService,
  ) {}

  /** Is there as long as somebody listens, and tells who else is: first as it is, then whenever that changes. */
  at(me: Me, place: string): Observable<Present[]> {
    return new Observable<Present[]>((listener) => {
      const line = randomUUID();
      const changed = merge(
        this.signals.of('present').pipe(filter((told) => told.place === place)),
        this.signals.missed,
      );
      const others = changed.pipe(concatMap(() => from(this.others(me, place)))).subscribe(listener);
      const seen = interval(SEEN_EVERY_MS).subscribe(() => void this.quietly(this.see(line)));
      void this.quietly(this.enter(me, place, line));
      return () => {
        others.unsubscribe();
        seen.unsubscribe();
        void this.quietly(this.leave(place, line));
      };
    });
  }

  private async enter({ id }: Me, place: string, line: string): Promise<void> {
    await this.db.query(`DELETE FROM document_open WHERE seen_at < now() - make_interval(secs => $1)`, [GONE_S]);
    await this.db.query('INSERT INTO document_open (line, place, account_id, seen_at) VALUES ($1, $2, $3, now())', [
      line,
      place,
      id,
    ]);
    await this.signals.tell(this.db.manager, 'present', { place });
  }
  private async see(line: string): Promise<void> {
    await this.db.query('UPDATE document_open SET seen_at = now() WHERE line = $1', [line]);
  }
  private async leave(place: string, line: string): Promise<void> {
    await this.db.query('DELETE FROM document_open WHERE line = $1', [line]);
    await this.signals.tell(this.db.manager, 'present', { place });
  }

  /** At the work of a student everybody is called as in their course. */
  private others(me: Me, place: string): Promise<Present[]> {
    return this.db.query<Present[]>(
      `SELECT DISTINCT account.id, coalesce(membership.name, account.name) AS name
         FROM document_open JOIN account ON account.id = account_id
         LEFT JOIN work ON work.document_id = $1 OR work.plan_id = $1
         LEFT JOIN assignment ON assignment.id = work.assignment_id
         LEFT JOIN membership ON membership.course_id = assignment.course_id AND membership.account_id = account.id
        WHERE place = $1 AND account.id <> $2 AND seen_at > now() - make_interval(secs => $3) ORDER BY name`,
      [place, me.id, GONE_S],
    );
  }

  /** Who else is there is good to know and stops nobody where it cannot be told. */
  private quietly(done: Promise<void>): Promise<void> {
    return done.catch((error: unknown) => this.logger.warn(String(error)));
  }
}

/** As an event of a live line. */
export const presentEvents = (present: Observable<Present[]>) =>
  present.pipe(map((others) => ({ type: 'present', data: JSON.stringify(others) })));
