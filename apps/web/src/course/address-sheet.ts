import { type AddedMember } from '@sobrin/contracts';
import Papa from 'papaparse';

/** The whole address of a path that the server gave. */
export const addressOf = (link: string): string => window.location.origin + link;

/** Of somebody for whom no account was made. */
export const stateOf = ({ wasThere, isInvited }: AddedMember): string =>
  wasThere ? (isInvited ? 'was invited before' : 'was there before') : 'invited';

/** A line a person (RFC 4180); what a table would take for a formula is a text. */
export const addressSheet = (added: readonly AddedMember[]): string =>
  Papa.unparse(
    [
      ['Name', 'Sign-in name', 'Address to choose a password'],
      ...added.map((member) => [
        member.name,
        member.login,
        member.link === null ? stateOf(member) : addressOf(member.link),
      ]),
    ],
    { escapeFormulae: true, newline: '\r\n' },
  );
