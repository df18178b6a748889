import { type ArgumentsHost, Catch, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import { ThrottlerException } from '@nestjs/throttler';
import { type Refusal } from '@sobrin/contracts';
import { type Response } from 'express';
import { BodyRefused } from './request-reader';

/** PostgreSQL's code where a row points at one that is not there (SQLSTATE, class 23). */
const REMOVED_MEANWHILE = '23503';

/** Turns whatever goes wrong into one shape: a sentence, never a stack trace. */
@Catch()
export class RefusalFilter implements ExceptionFilter {
  private readonly logger = new Logger('request');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    const { status, body } = this.answer(error);
    if (status >= 500) this.logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
    if (!response.headersSent) response.status(status).json(shortened(body));
  }

  private answer(error: unknown): { status: number; body: Refusal } {
    if (error instanceof ThrottlerException)
      return { status: 429, body: { message: 'Too many tries in a short time. Wait a minute, then try again.' } };
    if (error instanceof HttpException) {
      const given = error.getResponse();
      if (typeof given === 'string') return { status: error.getStatus(), body: { message: given } };
      const { message, ...rest } = given as Refusal & {
        message: string | string[];
        error?: string;
        statusCode?: number;
      };
      delete rest.error;
      delete rest.statusCode;
      return {
        status: error.getStatus(),
        body: { ...rest, message: Array.isArray(message) ? message.join(' ') : message },
      };
    }
    if (error instanceof BodyRefused) return { status: error.status, body: { message: error.message } };
    const { type, status, limit } = error as { type?: string; status?: number; limit?: number };
    if (type === 'entity.too.large')
      return {
        status: 413,
        body: {
          message:
            limit! > 10_000_000
              ? 'The file is too large: at most 10 MB are taken. Nothing was stored.'
              : `The request is larger than ${limit! / 1000} kB, the most that is taken here. Nothing was stored.`,
        },
      };
    if ((error as { code?: string }).code === REMOVED_MEANWHILE)
      return { status: 404, body: { message: 'What this belongs to was removed meanwhile. Nothing was stored.' } };
    if (status !== undefined && status >= 400 && status < 500)
      return { status, body: { message: 'The request cannot be read. Nothing was stored.' } };
    return {
      status: 500,
      body: {
        message:
          'Something went wrong in Sobrin. Nothing was half stored; try again, and tell whoever runs this server if it stays.',
      },
    };
  }
}

/** Letters of a sentence, problems and letters of a place: what was sent comes back in part at the most. */
const MOST = { text: 600, word: 200, problems: 100 };

/** An answer without more of what was sent than somebody needs to find it. */
function shortened({ message, problems, ...rest }: Refusal): Refusal {
  return {
    ...rest,
    message: short(message),
    ...(problems && {
      problems: problems.slice(0, MOST.problems).map(({ place, text }) => ({ place: short(place), text: short(text) })),
    }),
  };
}
const short = (text: string): string => {
  const words = text.replace(LONG_WORD, (word) => `${word.slice(0, MOST.word - 1)}…`);
  return words.length > MOST.text ? `${words.slice(0, MOST.text - 1)}…` : words;
};
const LONG_WORD = new RegExp(`\\S{${MOST.word},}`, 'gu');
