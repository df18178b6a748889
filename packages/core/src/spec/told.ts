import { type Brief, schemeWords } from '../plan';
import { type Topology, entryOf } from '../topology';
import { hostName } from './host-name';
import { type LeafRule, leavesIn } from './combining';
import { type Slot } from './rule';
import { ruleKind } from './rules';
import { type Handout, type Requirement, type Spec, type Task } from './schema';

/**
 * Where students are told what a requirement asks: under a task, by its place from 0; in the brief; in several places
 * together. What any network needs that works goes without saying. `nowhere` has the words that stand in no text.
 */
export type Told =
  | { readonly by: 'task'; readonly task: number }
  | { readonly by: 'brief' | 'handout' | 'together' | 'itself' }
  | { readonly by: 'nowhere'; readonly lacks: readonly string[] };

interface Texts {
  readonly spec: Spec;
  readonly reference: Topology;
  readonly brief: Brief;
  readonly tasks: readonly Task[];
  readonly handout?: Handout | undefined;
}

/** Kinds that ask for more than that a network works, with what a text must speak of that tells it. */
const SPEAKS_OF: Readonly<Record<string, readonly [words: string, shape: RegExp]>> = {
  titled: ['a title', /\btitle|\bauthor|\blegend/i],
  hostnameIsName: ['hostnames', /\bhost ?names?\b/i],
  portsLabelled: ['labels', /\blabel/i],
  labelAgrees: ['labels', /\blabel/i],
  cableIds: ['identifiers of cables', /\bidentif|\bcable (?:ids?|numbers?)\b|\bnumber (?:the|each|every) cable/i],
  cableLength: ['lengths', /\blength|\blong\b/i],
  linksNamed: ['words on links', /\blink/i],
  noted: ['notes', /\bnotes?\b/i],
  legible: ['that it can be read', /\blegib|\bread(?:able)?\b|\bcover/i],
  tableStands: ['a table', /\btable|\blist\b|\blegend/i],
  namePattern: ['names', /\bnam(?:e|ed|es|ing)\b/i],
  duplexAgrees: ['duplex', /\bduplex/i],
  fedByCable: ['power over cables', /\bpower|\bpoe\b/i],
  vlanExists: ['VLANs', /\bvlans?\b/i],
  portVlan: ['VLANs', /\bvlans?\b/i],
  voiceVlan: ['voice', /\bvoice|\bphone|\btelephon/i],
  ownVlan: ['VLANs', /\bvlans?\b/i],
  trunk: ['trunks', /\btrunk/i],
  nativeVlan: ['the native VLAN', /\bnative/i],
  bundle: ['bundles', /\bbundle|\baggregat/i],
  treeRoot: ['the root of the spanning tree', /\broot\b/i],
  blockedPort: ['the spanning tree', /\bspanning|\bblock/i],
  hostPorts: ['ports of hosts', /\bguard|\bsecur|\bedge/i],
  unusedOff: ['unused ports', /\bunused|\bfree ports/i],
  adjacency: ['OSPF', /\bospf\b|\bneighbours?\b/i],
  routerId: ['router ids', /\bids?\b/i],
  quietToHosts: ['that hosts are told nothing', /\bpassive|\bhosts?\b/i],
  virtualGateway: ['a shared gateway', /\bvirtual|\bvrrp\b|\bshared? (?:address|gateway)/i],
  translated: ['translation', /\btranslat|\bnat\b/i],
  filterPlace: ['where filters stand', /\bfilter/i],
  filterSize: ['lines of filters', /\blines?\b/i],
  lease: ['leases', /\bleas|\bdhcp\b|\bautomatic/i],
  poolCovers: ['pools', /\bpool|\bleas|\bdhcp\b/i],
  outsidePools: ['pools', /\bpool|\bleas|\bdhcp\b|\bfixed/i],
  resolves: ['names', /\bname|\bdns\b/i],
  call: ['calls', /\bcall|\bphone/i],
  remote: ['how one signs in', /\bssh\b|\btelnet\b|\bconsole\b|\bsign/i],
  signsIn: ['how one signs in', /\bsign|\bpassword/i],
  wireless: ['wireless', /\bwireless|\bwi-?fi\b|\bradio/i],
  survives: ['what may fail', /\bfail|\bredundan|\bspare|\bbreak/i],
  apart: ['who is kept apart', /\bapart|\bonly\b|\bnobody\b|\bnot\b|\bnothing\b|\bfilter|\bseparat/i],
  kitOnly: ['the kit', /\bkit\b|\bequipment/i],
  kitCost: ['what it may cost', /\bcost|\bprice|\bbudget/i],
  starterKept: ['what came with the starter', /\bstarter|\bgiven\b|\bchange/i],
  signedOff: ['that it is to be shown', /\bshow|\bcall/i],
  familyPresent: ['the family', /\bipv[46]\b|\bfamil/i],
};
/** What a text speaks of that rather tells a kind than another text that has its names and numbers as well. */
const RATHER: Readonly<Record<string, RegExp>> = {
  reach: /\breach|\banswer|\bget to\b/i,
  within: /\breach|\banswer/i,
  networksReach: /\breach/i,
  reachesGateway: /\bgateway|\breach/i,
  pathThrough: /\bway\b|\bthrough\b|\broute/i,
  route: /\broute|\bway\b/i,
  gateway: /\bgateway|\bway out\b/i,
  linked: /\bcable|\blink|\bjoin|\bhang/i,
  linksUp: /\bcable|\blink|\bjoin/i,
  medium: /\bcable|\bfibre|\bcopper|\bover\b/i,
  oneSubnet: /\bsubnet/i,
  roomFor: /\bsubnet|\bhosts?\b/i,
  noOverlap: /\bsubnet/i,
  uniqueAddresses: /\baddress/i,
};
const NUMBERS = 'zero one two three four five six seven eight nine ten eleven twelve'.split(' ');

/** What students read of a lab besides its tasks: the brief, and the introduction of the handout. */
const writtenIn = ({ brief, handout }: Pick<Texts, 'brief' | 'handout'>): { brief: string; introduction: string } => ({
  brief: [
    JSON.stringify({ ...brief, schemes: undefined }),
    schemeWords(brief.schemes?.names ?? ''),
    brief.schemes?.addresses ?? '',
  ].join('\n'),
  introduction: handout?.introduction ?? '',
});

/**
 * The names of the reference that stand in no text that students read, and in no starter: where names are prescribed,
 * nobody can know them.
 */
export function untoldNames(lab: Omit<Texts, 'spec'> & { readonly starter?: Topology | undefined }): string[] {
  const { brief, introduction } = writtenIn(lab);
  const text = [brief, introduction, ...lab.tasks.map((task) => task.text)].join('\n');
  const given = new Set(Object.values(lab.starter?.devices ?? {}).map(({ name }) => hostName(name)));
  const names = Object.values(lab.reference.devices).map(({ name }) => name.trim());
  return [...new Set(names)].filter((name) => name && !given.has(hostName(name)) && !literal(name).isIn(text));
}

/** Where students are told what each requirement asks, by its id; and the tasks on which no point hangs, from 0. */
export function toldOf(lab: Texts): { of: ReadonlyMap<string, Told>; idle: number[] } {
  const { spec, tasks } = lab;
  const { brief: briefText, introduction } = writtenIn(lab);
  const texts: readonly (readonly [Told, string])[] = [
    ...tasks.map(({ text }, task) => [{ by: 'task', task }, text] as const),
    [{ by: 'brief' }, briefText],
    ...(introduction ? [[{ by: 'handout' }, introduction] as const] : []),
  ];
  const all = texts.map(([, text]) => text).join('\n');
  const requirements = spec.sections.flatMap((section) => section.requirements);
  const asked = new Map(requirements.map((each) => [each.id, demandsOf(each, lab)]));
  const rulesOf = new Map(requirements.map(({ id, rule }) => [id, leavesIn(rule)]));
  const rather = (id: string): RegExp[] => rulesOf.get(id)!.flatMap(({ kind }) => RATHER[kind] ?? []);
  const of = new Map(
    requirements.map(({ id, task }): [string, Told] => {
      const linked = tasks.findIndex((each) => each.id === (task ?? questionsOf(rulesOf.get(id)!)[0]));
      if (linked >= 0) return [id, { by: 'task', task: linked }];
      const demands = asked.get(id)!;
      if (!demands.length) return [id, { by: 'itself' }];
      const whole = texts.filter(([, text]) => demands.every(({ isIn }) => isIn(text)));
      const speaks = ([, text]: (typeof whole)[number]): boolean => rather(id).some((shape) => shape.test(text));
      const told = whole.find(speaks) ?? whole[0];
      if (told) return [id, told[0]];
      const lacks = [...new Set(demands.filter(({ isIn }) => !isIn(all)).map(({ words }) => words))];
      return [id, lacks.length ? { by: 'nowhere', lacks } : { by: 'together' }];
    }),
  );
  // A task that tells a part of what is asked has points hanging on it as well.
  const hasPoints = (task: number): boolean =>
    requirements.some(({ id, points }) => {
      const told = of.get(id)!;
      if (points <= 0) return false;
      if (told.by === 'task') return told.task === task;
      const { text } = tasks[task]!;
      return asked.get(id)!.some(({ isIn }) => isIn(text)) || rather(id).some((shape) => shape.test(text));
    });
  return { of, idle: tasks.flatMap((_task, at) => (hasPoints(at) ? [] : [at])) };
}

/** The tasks under which rules read an answer: those are the questions, and no other text is. */
const questionsOf = (rules: readonly LeafRule[]): string[] =>
  rules.flatMap((rule) =>
    ruleKind(rule.kind)?.slots.task?.type === 'task' && typeof rule.task === 'string' ? rule.task : [],
  );

/** Something that a text must hold to tell what is asked. */
interface Demand {
  readonly words: string;
  isIn: (text: string) => boolean;
}

function demandsOf({ rule }: Requirement, lab: Texts): Demand[] {
  return leavesIn(rule).flatMap((leaf) => {
    // What a question wants is its answer: telling it would give it away.
    if (questionsOf([leaf]).length) return [];
    const [words, shape] = SPEAKS_OF[leaf.kind] ?? [];
    const slots = Object.entries(ruleKind(leaf.kind)?.slots ?? {});
    return [
      ...(words !== undefined && shape ? [{ words, isIn: (text: string) => shape.test(text) }] : []),
      ...slots.flatMap(([name, slot]) => valueDemands(slot, leaf[name], lab)),
    ];
  });
}

/** What a value asks that no text need name: the kinds of all devices, any site. */
function valueDemands(slot: Slot, value: unknown, { spec, reference }: Texts): Demand[] {
  const text = typeof value === 'string' ? value : '';
  switch (slot.type) {
    case 'prefix':
      return [literal(text)];
    case 'number':
      return Number(value) > 1 ? [numeral(Number(value))] : [];
    case 'site': {
      const site = entryOf(reference.sites, text);
      return site ? [literal(site.name)] : [];
    }
    case 'ref': {
      if (entryOf(spec.groups, text)) return [];
      const device = entryOf(reference.devices, text);
      return device ? [called(device.name)] : [];
    }
    case 'text':
      // Patterns and services are words of their own, too.
      return /^[\p{L}\p{N} .:/,-]{2,60}$/u.test(text) ? text.split(/\s*,\s*/).map(literal) : [];
    case 'choices': {
      const texts = (Array.isArray(value) ? value : []).flatMap(
        (chosen) => slot.options.find((option) => option.value === chosen)?.text ?? [],
      );
      if (!texts.length) return [];
      // One of them is enough: single-mode, straight.
      const shape = new RegExp(`\\b(?:${texts.map((text) => escaped(text.split(/[ ]|-through/)[0]!)).join('|')})`, 'i');
      return [{ words: texts.join(' or '), isIn: (text) => shape.test(text) }];
    }
    default:
      return [];
  }
}
const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
const literal = (words: string): Demand => {
  const shape = new RegExp(`(?<![\\p{L}\\p{N}])${escaped(words.trim())}(?![\\p{L}\\p{N}])`, 'iu');
  return { words, isIn: (text) => shape.test(text) };
};
/** A device by its name, or by what it is called without its number: OFFICE-1 is one of the office. */
const called = (name: string): Demand => {
  const stem = name.replace(/[-_ ]?\d+$/, '');
  const own = literal(name);
  return stem.length < 3 || stem === name
    ? own
    : { ...own, isIn: (text) => own.isIn(text) || literal(stem).isIn(text) };
};
const numeral = (n: number): Demand => {
  const word = NUMBERS[n];
  const shape = new RegExp(`(?<![\\p{N}.])(?:${n}${word === undefined ? '' : `|${word}`})(?![\\p{N}])`, 'iu');
  return { words: String(n), isIn: (text) => shape.test(text) };
};
