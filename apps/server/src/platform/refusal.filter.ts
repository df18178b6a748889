import { type ArgumentsHost, Catch, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import { ThrottlerException } from '@nestjs/throttler';
import { type Refusal } from '@sobrin/contracts';
import { type Response } from 'express';

/** Turns whatever goes wrong into one shape: a sentence, never a stack trace. */
@Catch()
export class RefusalFilter implements ExceptionFilter {
  private readonly logger = new Logger('request');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    const { status, body } = this.answer(error);
    if (status >= 500) this.logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
    if (!response.headersSent) response.status(status).json(body);
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
    const { type, status } = error as { type?: string; status?: number };
    if (type === 'entity.too.large')
      return { status: 413, body: { message: 'The file is too large: at most 10 MB are taken. Nothing was stored.' } };
    if (type === 'entity.parse.failed')
      return { status: 400, body: { message: 'The request is no JSON. Nothing was stored.' } };
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
