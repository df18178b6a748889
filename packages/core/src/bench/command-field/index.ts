import { adds, duplicates } from './add-lines';
import { addresses } from './address-lines';
import { aligns, renames, spaces } from './change-lines';
import { automatics, bundles, deletes, gateways, natives, routes, trunks, vlans } from './configure-lines';
import { nearestWords } from '../../nearest';
import { type Completion, type FieldContext, why } from './completion';
import { calls, finds, jumps, plugs, signIns, traces } from './find-lines';
import { links } from './link-lines';
import { modelWords } from '../models';

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
  ['call', 'call PH-1 PH-2', 'one telephone from another'],
  ['plug', 'plug SW-1 p9', 'what a laptop gets there'],
  ['vlan', 'vlan 20 SW-1 p1-p8', 'ports in a VLAN, untagged'],
  ['trunk', 'trunk SW-1 u1 10,20', 'ports that carry VLANs with their tags'],
  ['native', 'native 99 SW-1 u1', 'the VLAN of a trunk without a tag'],
  ['bundle', 'bundle SW-1 u1,u2', 'several links as one'],
  ['gateway', 'gateway PC-* 10.84.1.1', 'of hosts'],
  ['route', 'route RT-1 10.0.0.0/8 via 10.84.15.2', 'a static route'],
  ['dhcp', 'dhcp PC-*', 'addresses from a server'],
  ['delete', 'delete PC-*', 'devices, with their links'],
] as const;
/** What people say as well. */
const ALSO: Readonly<Record<string, Verb>> = {
  connect: 'link',
  cable: 'link',
  wire: 'link',
  search: 'find',
  ip: 'address',
  copy: 'duplicate',
  ping: 'trace',
  signin: 'sign-in',
  login: 'sign-in',
  dial: 'call',
  untagged: 'vlan',
  access: 'vlan',
  tagged: 'trunk',
  pvid: 'native',
  lag: 'bundle',
  aggregate: 'bundle',
  automatic: 'dhcp',
  remove: 'delete',
};
/** Words of two parts as one. */
const oneWord = (text: string): string =>
  text.replace(/^(sign|log)\s+in\b/i, 'sign-in').replace(/^link\s+aggregation\b/i, 'bundle');
const verbOf = (word: string | undefined): Verb | undefined => {
  const lower = word?.toLowerCase() ?? '';
  return VERBS.find(([name]) => name === lower)?.[0] ?? (Object.hasOwn(ALSO, lower) ? ALSO[lower] : undefined);
};
type Verb = (typeof VERBS)[number][0];
const MOST = 9;

/** What a text in the command field can mean, the likeliest first. Pure; nothing is changed. */
export function completions(text: string, context: FieldContext): Completion[] {
  const typed = oneWord(text.replace(/^\s+/, ''));
  const [, verb, rest] = /^(\S+)\s+(.*)$/s.exec(typed) ?? [];
  const known = verbOf(verb);
  if (known) {
    const lines = READERS[known](rest!.trimEnd() === '' ? '' : rest!, context);
    // "access point" and "call server" are things as well.
    const things = lines.some(({ action }) => action) ? [] : adds(typed, context).filter(({ action }) => action);
    const said = things.length ? things : lines;
    const entries = menuLines(typed.trim(), context);
    // The menu's own words may begin with a verb: who types whole ones of them means the entry.
    const isMeant = said.every(({ action }) => !action) || entries.some(({ text }) => isMadeOf(typed, text));
    return (isMeant ? [...entries, ...said] : [...said, ...entries]).slice(0, MOST);
  }
  if (!typed.trim()) return VERBS.map(([word, example, more]) => wordLine(word, example, more));
  const found = [
    ...VERBS.filter(([word]) => word.startsWith(typed.toLowerCase()) || word === verbOf(typed)).map(
      ([word, example, more]) => wordLine(word, example, more),
    ),
    ...jumps(typed.trim(), context),
    ...named(typed, context),
    ...adds(typed, context),
    ...menuLines(typed.trim(), context),
    ...finds(typed.trim(), context),
  ].filter((completion, at, all) => completion.action && all.findIndex((other) => other.id === completion.id) === at);
  return found.length ? found.slice(0, MOST) : nearest(typed.trim(), context);
}

/** Whether two words or more are typed, and all of them are whole words of a text. */
function isMadeOf(typed: string, text: string): boolean {
  const [words, whole] = [typed, text].map((each) => each.trim().toLowerCase().split(/\s+/));
  return words!.length > 1 && words!.every((word) => whole!.includes(word));
}

/** "PC-1 10.84.1.11/26": a device and an address is meant as its address. */
const named = (text: string, context: FieldContext): Completion[] =>
  /^\S.*\s\S*[\d.:]+\/\d+$/.test(text.trim())
    ? addresses(text, context).filter(({ action }) => action?.do === 'address')
    : [];

/** What may have been meant by a text that means nothing. */
function nearest(text: string, context: FieldContext): Completion[] {
  const [, first = '', rest = ''] = /^(\S+)\s*(.*)$/s.exec(text) ?? [];
  const near = nearestWords(first, [...VERBS.map(([word]) => word), ...Object.keys(ALSO), ...modelWords()]);
  const names = Object.values(context.topology.devices).map(({ name }) => name);
  const lines = [...near, ...nearestWords(text, names)].map((word): Completion => {
    const fill = names.includes(word) ? word : `${word} ${rest}`;
    return {
      id: `near ${word}`,
      sign: 'word',
      text: fill.trim(),
      more: 'is that meant?',
      fill,
      action: { do: 'fill' },
    };
  });
  return [
    why(`Nothing is called “${text}”`, lines.length ? '' : `begin with ${VERBS.map(([word]) => word).join(', ')}`),
    ...lines.slice(0, 4),
  ];
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
  call: calls,
  plug: plugs,
  vlan: vlans,
  trunk: trunks,
  native: natives,
  bundle: bundles,
  gateway: gateways,
  route: routes,
  dhcp: automatics,
  delete: deletes,
};

const wordLine = (word: string, example: string, more: string): Completion => ({
  id: `word ${word}`,
  sign: 'word',
  text: word,
  more: `${example} · ${more}`,
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
