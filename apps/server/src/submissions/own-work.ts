import { type Plan } from '@sobrin/core/plan';
import { refuse } from '../platform/refusal';
import { type Work } from './submission.entity';

/** Two who use one browser sign in one after the other: what the first one's page still sends is not the second one's. */
export function checkTheirs({ documentId }: Work, drawing: string | undefined): void {
  if (drawing !== undefined && drawing !== documentId)
    throw refuse.state(
      'Somebody else has signed in in this browser since this page was opened. Nothing was taken: load the page again.',
    );
}

/** Whether nothing is planned. */
export const isBlank = ({ blocks, addresses }: Plan): boolean => !Object.keys(blocks).length && !addresses;
