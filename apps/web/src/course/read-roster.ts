import { type RosterEntry } from '@sobrin/contracts';
import Papa from 'papaparse';

/** A sign-in name from a name: "Zofia Wróna" becomes zofia.wrona. */
export const loginOf = (name: string): string =>
  name
    .replace(/ß/g, 'ss')
    .replace(/[Øø]/g, 'o')
    .replace(/[Łł]/g, 'l')
    .normalize('NFD')
    .toLowerCase()
    .replace(/[^a-z0-9 .-]/g, '')
    .trim()
    .replace(/[\s.]+/g, '.');

const LOGIN = /^[a-z0-9][a-z0-9._-]{1,39}$/;

/** Whether a part of a line is a sign-in name as people write them, and not the second half of a name. */
const isLogin = (part: string): boolean => LOGIN.test(part) || (LOGIN.test(part.toLowerCase()) && /[._0-9]/.test(part));

/**
 * The name and what follows it. Between them stand tabs, semicolons or commas, the first of these that a line has; what
 * stands in quotation marks is one part. With commas "Kern, Lukas" is one name, since nobody signs in as "Lukas".
 */
function partsOf(line: string): string[] {
  const separator = ['\t', ';', ','].find((each) => line.includes(each)) ?? ',';
  const parts = (Papa.parse<string[]>(line, { delimiter: separator }).data[0] ?? []).map((part) => part.trim());
  const [family = '', given, ...rest] = parts;
  const isName = separator === ',' && family !== '' && !family.includes(',') && given && !isLogin(given);
  return isName
    ? [`${family}, ${given}`, ...(rest.length && !isLogin(rest[0]!) && rest[0] ? ['', ...rest] : rest)]
    : parts;
}

/** "Kern, Lukas" as it is spoken: "Lukas Kern". */
const spoken = (name: string): string => name.split(',').reverse().join(' ');

/** Reads lines "Name", "Name, sign-in name" or "Name, sign-in name, group". */
export function readRoster(text: string): { students: RosterEntry[]; problems: string[] } {
  const students: RosterEntry[] = [];
  const problems: string[] = [];
  const seen = new Set<string>();
  for (const [at, line] of text.split(/\r?\n/).entries()) {
    if (!line.trim()) continue;
    const [name = '', given = '', group = '', ...rest] = partsOf(line);
    const login = given ? given.toLowerCase() : loginOf(spoken(name));
    if (!name) problems.push(`Line ${at + 1}: the name is missing.`);
    else if (name.length > 80)
      problems.push(`Line ${at + 1}: the name has ${name.length} characters, at most 80 are taken.`);
    else if (!LOGIN.test(login))
      problems.push(
        `Line ${at + 1}: “${login || name}” makes no sign-in name. Add one after a comma: 2 to 40 small letters, digits, dots, dashes or underscores.`,
      );
    else if (group.length > 40 || rest.some(Boolean))
      problems.push(
        `Line ${at + 1}: after name, sign-in name and a group of at most 40 characters nothing more is taken.`,
      );
    else if (seen.has(login))
      problems.push(`Line ${at + 1}: the sign-in name ${login} is there twice. Add another one after a comma.`);
    else students.push({ name, login, ...(group && { group }) });
    seen.add(login);
  }
  return { students, problems };
}
