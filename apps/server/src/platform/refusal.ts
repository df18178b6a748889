import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  HttpException,
  HttpStatus,
  NotFoundException,
  UnprocessableEntityException,
} from '@nestjs/common';
import { type AnyDocument, type Conflict } from '@sobrin/contracts';
import { type Problem } from '@sobrin/core/topology';

/** What a person is told of something that went wrong where nobody waited for an answer. */
export function wordsOf(error: unknown): string {
  const given = error instanceof HttpException ? (error.getResponse() as { message?: string }) : {};
  return given.message ?? 'Something went wrong in Sobrin: tell whoever runs this server.';
}

/** The ways in which the server says no: always a sentence, with the places where there are some. */
export const refuse = {
  missing: (what: string): NotFoundException =>
    new NotFoundException({ message: `There is no such ${what}, or it is not yours to see.` }),
  forbidden: (message: string): ForbiddenException => new ForbiddenException({ message }),
  problems: (message: string, problems: Problem[]): UnprocessableEntityException =>
    new UnprocessableEntityException({ message, problems }),
  state: (message: string): ConflictException => new ConflictException({ message }),
  conflict: (body: Conflict<AnyDocument>): ConflictException => new ConflictException(body),
  /** Something that was given up, as it takes more time or memory than anything may. */
  tooMuch: (message: string): HttpException => new HttpException({ message }, HttpStatus.UNPROCESSABLE_ENTITY),
  tooMany: (message: string): HttpException => new HttpException({ message }, HttpStatus.TOO_MANY_REQUESTS),
  input: (message: string): BadRequestException => new BadRequestException({ message }),
};
