import { Injectable, Logger } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { type Request } from 'express';
import { DataSource } from 'typeorm';

/** What an operator can look up afterwards. */
export type Recorded =
  | 'signed in'
  | 'sign-in refused'
  | 'password chosen'
  | 'password changed'
  | 'second factor on'
  | 'second factor off'
  | 'role refused';

const KEPT_DAYS = 90;
/** Letters of what somebody else sent. */
const MOST = 200;

/**
 * A record of sign-ins and of what was refused: who, from where, how often in an hour. Rows of an hour are one, so that
 * nobody fills the disk by trying; after 90 days they go.
 */
@Injectable()
export class RecordsService {
  private readonly logger = new Logger('records');

  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /** Writes it down. Whoever signs in does so also where that does not go. */
  async write(what: Recorded, login: string, request: Request, detail = ''): Promise<void> {
    const agent = (request.headers['user-agent'] ?? '').slice(0, MOST);
    try {
      await this.db.query(
        `INSERT INTO record (what, login, address, detail, hour, last, count, agent)
          VALUES ($1, $2, $3, $4, date_trunc('hour', now()), now(), 1, $5)
          ON CONFLICT (what, login, address, detail, hour) DO UPDATE SET count = record.count + 1, last = now(), agent = $5`,
        [what, login.slice(0, MOST), request.ip ?? '', detail.slice(0, MOST), agent],
      );
      if (what === 'signed in')
        await this.db.query(`DELETE FROM record WHERE hour < now() - make_interval(days => $1)`, [KEPT_DAYS]);
    } catch (error) {
      this.logger.error(`"${what}" of ${login} could not be written down: ${String(error)}`);
    }
  }
}
