import { adds, duplicates } from './add-lines';
import { addresses } from './address-lines';
import { aligns, renames, spaces } from './change-lines';
import { type Completion, type FieldContext, why } from './completion';
import { finds, jumps, signIns, traces } from './find-lines';
import { links } from './link-lines';

export { type Completion, type FieldAction, type FieldContext } from './completion';

const VERBS = [
  ['add', 'add switch 20 x3 at Valley', 'devices from the kit'],
  ['link', 'link T1 SW1', 'two devices, or many to one: link PC-* SW1'],
  ['find', 'find 10.84.1', 'by name, address, model or cable'],
  ['address', 'address PC-* 10.84.1.11/26', 'one by one, from an address or a subnet of the plan'],
  ['rename', 'rename PC-1 DESK-1', 'a device'],
  ['align', 'align top', 'what is chosen'],
  ['space', 'space across', 'what is chosen, evenly'],
  ['duplicate', 'duplicate x3', 'what is chosen, with new names and addresses'],
  ['trace', 'trace T1 SHOP', 'a packet’s way, there and back'],
  ['sign-in', 'sign-in T1 SW1 ssh', 'who may sign in: by ssh, telnet or console'],
] as const;
type Verb = (typeof VERBS)[number][0];
const MOST = 9;

/** What a text in the command field can mean, the likeliest first. Pure; nothing is changed. */
export function completions(text: string, context: FieldContext): Completion[] {
  const typed = text.replace(/^\s+/, '');
  const [, verb, rest] = /^(\S+)\s+(.*)$/s.exec(typed) ?? [];
  const known = VERBS.find(([name]) => name === verb?.toLowerCase())?.[0];
  if (known) return READERS[known](rest!.trimEnd() === '' ? '' : rest!, context).slice(0, MOST);
  if (!typed.trim()) return VERBS.map(([word, example, more]) => wordLine(word, example, more));
  const found = [
    ...VERBS.filter(([word]) => word.startsWith(typed.toLowerCase())).map(([word, example, more]) =>
      wordLine(word, example, more),
    ),
    ...jumps(typed.trim(), context),
    ...adds(typed, context),
    ...menuLines(typed.trim(), context),
    ...finds(typed.trim(), context),
  ].filter((completion, at, all) => completion.action && all.findIndex((other) => other.id === completion.id) === at);
  return found.length
    ? found.slice(0, MOST)
    : [why(`Nothing is called “${typed.trim()}”`, `begin with ${VERBS.map(([word]) => word).join(', ')}`)];
}

const READERS: Readonly<Record<Verb, (rest: string, context: FieldContext) => Completion[]>> = {
  add: adds,
  link: links,
  find: finds,
  address: addresses,
  rename: renames,
  align: aligns,
  space: spaces,
  duplicate: duplicates,
  trace: traces,
  'sign-in': signIns,
};

const wordLine = (word: string, example: string, more: string): Completion => ({
  id: `word ${word}`,
  sign: 'word',
  text: word,
  more: `${more}, for instance: ${example}`,
  fill: `${word} `,
  action: { do: 'fill' },
});

const menuLines = (text: string, { menu }: FieldContext): Completion[] =>
  menu
    .filter((line) =>
      text
        .toLowerCase()
        .split(/\s+/)
        .every((word) => line.text.toLowerCase().includes(word)),
    )
    .slice(0, 4)
    .map((line): Completion => ({
      id: `menu ${line.id}`,
      sign: 'menu',
      text: line.text,
      more: line.more ?? '',
      fill: line.text,
      action: { do: 'menu', id: line.id },
    }));
