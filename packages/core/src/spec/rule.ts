import { type Static, type TSchema, Type } from '@sinclair/typebox';
import { type Address, type InterfaceAddress, type Prefix } from '../address';
import { type Instance, type NetworkModel, type Probe, type ReasonCode } from '../engine';
import { type Brief, type PlanProblem, type PlanTree, type SubnetNeed } from '../plan';
import { type Problem, type Topology } from '../topology';

/** Something a finding points at in the submission. */
export interface Place {
  device?: string;
  member?: string;
  port?: string;
  link?: string;
  site?: string;
  /** A block of the submission's plan. */
  block?: string;
}

/** What an item says, as a closed word: a reason of the engine, or one of these. */
export type ItemCode = ReasonCode | 'MET' | 'LOST' | 'ABSENT' | 'UNCERTAIN' | 'NOT_LINKED' | 'REQUEST_ARRIVES';

/** A packet in the submission, from one instance to another: what it carries, an echo where nothing is said. */
export interface Packet {
  from: string;
  to: string;
  /** Of the one that is asked. */
  address: string;
  probe?: Probe;
}

/** One checked fact. `met` is null where the engine cannot say for certain: then a person decides. */
export interface Item {
  code: ItemCode;
  text: string;
  met: boolean | null;
  /** The place of a fault comes first, then those who suffer from it. */
  places: Place[];
  /** Whether everything the item speaks of exists and is matched; "not" is met only where it is. */
  grounded: boolean;
  /** What it speaks of, never by ids or texts of the student: roles of the reference, and the family of addresses. */
  about?: { roles: readonly string[]; family?: 4 | 6 };
  /** How many devices it stands for in a share; 1 where it is absent. */
  weight?: number;
  /** The student's words that fulfil it: those of the starter are given, others in their place are not. */
  by?: string;
  /** What was found and what is wanted, where a sentence compares numbers, addresses or words. */
  values?: Readonly<Record<'found' | 'wanted', string | number>>;
  /** What else it read than its places and roles: the way that a packet took. */
  reads?: readonly Place[];
  /** The packet whose way shows it. */
  packet?: Packet;
  /** The kind of rule that judges what is missing: where the spec has that one as well, this costs nothing more. */
  see?: 'linked' | 'labelled';
}

/** A piece of a sentence: fixed words, or a word one can choose. */
export type Part = string | { slot: string; text: string };

/** What may be chosen for a slot; the editor builds its control from this. */
export type Slot =
  /** One that may be absent has words before it where it is there. */
  | { type: 'ref'; before?: string; title?: string }
  | { type: 'refs' }
  | { type: 'number'; min: number; max: number }
  | {
      type: 'choice';
      /** An empty value is that of a property that is absent. `one` is said of one; `choice` is what is read where one chooses, if more is to be said. */
      options: readonly { value: string; text: string; one?: string; choice?: string }[];
      /** What is usual is not said: these letters stand before what is not. `title` is what there is to be said. */
      quiet?: string;
      title?: string;
    }
  | { type: 'choices'; options: readonly { value: string; text: string }[]; title?: string; mayBeNone?: true }
  | { type: 'site' }
  | { type: 'group' }
  | { type: 'task' }
  | { type: 'prefix' }
  /**
   * A text with what is wrong with it, as a sentence. One that may be absent has words before it where it is there, and
   * words for what to type where it is not.
   */
  | {
      type: 'text';
      problem: (text: string) => string | null;
      before?: string;
      empty?: string;
      title?: string;
      isNumber?: true;
      /** A sentence rather than a name or a value. */
      isProse?: true;
    };

/** Words for the things a rule points at. */
export interface Names {
  ref: (ref: string) => string;
  site: (id: string) => string;
  /** A group of the brief, or all of them. */
  group: (id: string) => string;
  /** A task, by its number. */
  task: (id: string) => string;
  /** What of a sentence students read otherwise, since it is the answer. */
  secret: (full: string, theirs: string) => string;
}

/** What a rule is evaluated against. All lookups go from the roles of the reference to the student's devices. */
export interface CheckContext extends Names {
  readonly brief: Brief;
  /** The models that the lab allows, with how many of each; undefined for all. */
  readonly kit: Readonly<Record<string, { readonly most?: number; readonly cost?: number }>> | undefined;
  /** What the lab gives to begin with. */
  readonly starter: Topology | undefined;
  /** What the student wrote under each task, by its id. */
  readonly answers: Readonly<Record<string, string>>;
  /** The student's plan, read once. */
  readonly plan: {
    readonly tree: PlanTree;
    readonly problems: readonly PlanProblem[];
    readonly needs: readonly SubnetNeed[];
  };
  readonly reference: NetworkModel;
  readonly student: NetworkModel;
  /** The roles a ref stands for, as instance ids of the reference. */
  roles: (ref: string) => readonly string[];
  /**
   * Pairs of roles that the spec asks to reach one another, one of which is this role, and which are of different subnets
   * in the reference: that it works is seen by them.
   */
  askedBeyond: (role: string, family: 4 | 6) => readonly (readonly [from: string, to: string])[];
  /** The families in which the reference addresses a role, beyond its own link; both, one or none. */
  familiesOf: (role: string) => readonly (4 | 6)[];
  roleName: (role: string) => string;
  /**
   * A piece of an item's text that those who teach read as `full`, and students as `theirs` unless their sentence holds
   * `value`.
   */
  mark: (full: string, theirs: string, value?: string | number) => string;
  /** Whether a role is no device of the reference, but one that a selection chose in the student's drawing. */
  isOwn: (role: string) => boolean;
  /** The student's device that plays a role. */
  device: (role: string) => Instance | null;
  /** That device, and those that do the work of the role together with it. */
  devices: (role: string) => readonly Instance[];
  /** The role a student's device plays. */
  roleOf: (instance: string) => string | null;
  /** The student's site that corresponds to a site of the reference. */
  siteOf: (id: string) => string | null;
  /**
   * Addresses of one family that are typed on a device and can be read, whether its interfaces are up or not; then
   * those it was given. Those of one link alone (RFC 4291 §2.5.6, RFC 3927) are no address plan and left out.
   */
  addresses: (instance: Instance, family: 4 | 6) => readonly InterfaceAddress[];
  /** The subnet of the reference that most devices of a ref are in; null for none. */
  referenceSubnet: (ref: string, family: 4 | 6) => Prefix | null;
  /** The address realm in which a device has an address, as a number (RFC 2663 §2.1). */
  realmOf: (instance: Instance, address: Address) => number;
}

/** Families of rules, in the order in which the editor offers them. */
export const FAMILIES = [
  'components',
  'cabling',
  'addressing',
  'connectivity',
  'operation',
  'plan',
  'documentation',
  'questions',
  'signOff',
  'combination',
] as const;
export type RuleFamily = (typeof FAMILIES)[number];
export const FAMILY_TITLES: Readonly<Record<RuleFamily, string>> = {
  components: 'Components',
  cabling: 'Cabling',
  addressing: 'Addressing',
  connectivity: 'Connectivity',
  operation: 'Operation',
  plan: 'Plan',
  documentation: 'Documentation',
  questions: 'Questions',
  signOff: 'Sign-offs',
  combination: 'Together',
};

/** One kind of rule: its shape, its wording and its evaluation. */
export interface RuleKind<S extends TSchema = TSchema> {
  readonly kind: string;
  readonly family: RuleFamily;
  /** How the kind is offered when a requirement is added. */
  readonly title: string;
  readonly schema: S;
  readonly slots: Readonly<Record<string, Slot>>;
  /** A first version of the rule for the editor. */
  readonly fresh: Static<S>;
  /** With each slot in braces, as in "{who} can reach the gateway."; absent where `words` says what none can. */
  readonly sentence?: string;
  /** The same where its number is 1: "There is {op} {n} router." */
  readonly one?: string;
  words(rule: Static<S>, names: Names): Part[];
  evaluate(rule: Static<S>, context: CheckContext): Item[];
  /** What is wrong with the values of a rule beyond its shape, place by property. */
  problems?(rule: Static<S>): Problem[];
}

/** A rule kind as it is defined: by its sentence, or by words where no sentence can say it. */
type RuleDefinition<S extends TSchema> = Omit<RuleKind<S>, 'words' | 'sentence'> &
  ({ readonly sentence: string } | Pick<RuleKind<S>, 'words'>);

/** Gives a rule kind its types; the shape always has `kind` first. */
export const defineRule = <S extends TSchema>(rule: RuleDefinition<S>): RuleKind =>
  'sentence' in rule
    ? {
        ...rule,
        words: (values, names) => partsOf(rule, values as Record<string, unknown>, names),
      }
    : rule;

/** The pieces of a sentence with the words for what is chosen in its slots. */
function partsOf(
  { sentence: many, one, slots }: Required<Pick<RuleKind, 'sentence'>> & Pick<RuleKind, 'one' | 'slots'>,
  values: Readonly<Record<string, unknown>>,
  names: Names,
): Part[] {
  const isOne = Object.entries(slots).some(([name, { type }]) => type === 'number' && values[name] === 1);
  const sentence = isOne && one !== undefined ? one : many;
  return sentence.split(/\{(\w+)\}/).flatMap((piece, at): Part[] => {
    if (at % 2 === 0) return piece ? [piece] : [];
    const text = wordsOf(slots[piece]!, values[piece], names, isOne);
    return [slot(piece, sentence.startsWith(`{${piece}}`) ? capital(text) : text)];
  });
}

function wordsOf(slot: Slot, value: unknown, names: Names, isOne: boolean): string {
  const optionText = (options: readonly { value: string; text: string; one?: string }[], chosen: unknown): string => {
    const option = options.find((each) => each.value === chosen);
    return (isOne ? option?.one : undefined) ?? option?.text ?? String(chosen);
  };
  switch (slot.type) {
    case 'ref':
      return value === undefined ? '' : `${slot.before ?? ''}${names.ref(value as string)}`;
    case 'refs':
      return (value as string[]).map(names.ref).join(', ') || '…';
    case 'site':
      return names.site(value as string);
    case 'group':
      return names.group(value as string);
    case 'task':
      return names.task(value as string);
    case 'choice':
      if (slot.quiet === undefined) return optionText(slot.options, value ?? '');
      return value === undefined ? '' : slot.quiet + optionText(slot.options, value);
    case 'choices':
      return (value as string[]).map((chosen) => optionText(slot.options, chosen)).join(' or ');
    case 'text':
      return value === undefined ? '' : `${slot.before ?? ''}${value as string}`;
    case 'number':
    case 'prefix':
      return String(value);
  }
}

/** Points at a group of the spec, a device of the reference (one or a tile), or all of a sort. */
export const Ref = Type.String({ pattern: '^@?[A-Za-z0-9][A-Za-z0-9_.:/-]{0,130}$' });
/** Refs that stand for all devices of a sort, in words. */
export const REF_WORDS: Readonly<Record<string, string>> = {
  '@all': 'every device',
  '@hosts': 'every host',
  '@network': 'every network device',
};
/** Stands, in `forEach`, for each local network: a broadcast domain with hosts in it. */
export const NETWORKS = '@networks';
export const NETWORKS_WORDS = 'the local networks';
/** The member that is looked at, in the words of the sentence inside of `forEach`. */
export const EACH_WORDS = 'it';

export const slot = (name: string, text: string | number): Part => ({ slot: name, text: String(text) });
/** The first letter large, for a name at the beginning of a sentence. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
/** A sentence put together from its pieces. */
export const sentenceOf = (parts: readonly Part[]): string =>
  parts.map((part) => (typeof part === 'string' ? part : part.text)).join('');

export const placeOf = (instance: Instance, more: Place = {}): Place => ({
  device: instance.deviceId,
  ...(instance.member !== null && { member: instance.member }),
  ...more,
});
export const met = (text: string, ...places: Place[]): Item => ({
  code: 'MET',
  text,
  met: true,
  places,
  grounded: true,
});
export const lost = (text: string, ...places: Place[]): Item => ({
  code: 'LOST',
  text,
  met: false,
  places,
  grounded: true,
});
/** A comparison of what was found with what is wanted. */
export const compared = (
  isMet: boolean,
  text: string,
  values: NonNullable<Item['values']>,
  ...places: Place[]
): Item => ({ ...(isMet ? met : lost)(text, ...places), values });

/** A list of devices in words and as places: of many the first few, and how many more. */
export function few(instances: readonly Instance[]): { words: string; places: Place[] } {
  const names = [...new Set(instances.map(({ name }) => name))];
  const shown = names.slice(0, MOST_NAMED);
  const more = names.length - shown.length;
  return {
    words: more ? `${shown.join(', ')} and ${more} more` : shown.join(' and '),
    places: instances.slice(0, MOST_PLACES).map((instance) => placeOf(instance)),
  };
}
const [MOST_NAMED, MOST_PLACES] = [6, 24];

/** What is asked about is not there. */
export const absent = (text: string, ...places: Place[]): Item => ({
  code: 'ABSENT',
  text,
  met: false,
  places,
  grounded: false,
});
/** Says of items what they speak of, where they do not say so themselves. */
export const about = (items: Item | readonly Item[], roles: readonly string[], family?: 4 | 6): Item[] =>
  [items].flat().map((item) => ({ ...item, about: { roles, ...(family !== undefined && { family }), ...item.about } }));

/** One item for each role of a ref; a role that nobody plays is lost. Never empty, so nothing is met by nothing. */
export function eachRole(
  context: CheckContext,
  ref: string,
  judge: (instance: Instance, role: string) => Item | Item[],
  roles: readonly string[] = context.roles(ref),
): Item[] {
  if (!roles.length) return [absent(`The spec speaks of ${context.ref(ref)}, which is nobody.`)];
  return roles.flatMap((role) => {
    const instance = context.device(role);
    return about(
      instance ? judge(instance, role) : absent(`Nothing in the drawing plays the part of ${context.roleName(role)}.`),
      [role],
    );
  });
}

/**
 * The families in which a rule judges some roles together: the one that it names; else those in which the reference
 * addresses all of them, else any of them; where it addresses none, those that the brief asks for.
 */
export function familiesFor(
  context: CheckContext,
  rule: { readonly family?: '4' | '6' },
  roles: readonly string[],
): readonly (4 | 6)[] {
  if (rule.family !== undefined) return [rule.family === '4' ? 4 : 6];
  const of = roles.map((role) => context.familiesOf(role));
  const both = ([4, 6] as const).filter((family) => of.every((families) => families.includes(family)));
  if (roles.length && both.length) return both;
  const any = ([4, 6] as const).filter((family) => of.some((families) => families.includes(family)));
  if (any.length) return any;
  return (context.brief.outside ?? []).some((range) => range.includes(':')) ? [4, 6] : [4];
}

/** The same for each role of a ref, one after another. */
export const eachRoleAndFamily = (
  context: CheckContext,
  ref: string,
  rule: { readonly family?: '4' | '6' },
  judge: (instance: Instance, family: 4 | 6, role: string) => Item | Item[],
): Item[] =>
  eachRole(
    context,
    ref,
    (instance, role) =>
      familiesFor(context, rule, [role]).flatMap((family) => about(judge(instance, family, role), [role], family)),
    addressedOf(context, ref),
  );

/** Of all devices of a sort those that the reference addresses: a switch without an address is not asked for one. */
function addressedOf(context: CheckContext, ref: string): readonly string[] {
  const roles = context.roles(ref);
  if (!Object.hasOwn(REF_WORDS, ref)) return roles;
  const addressed = roles.filter((role) => {
    const own = context.isOwn(role) ? context.device(role) : null;
    // Without a reference a host is asked for one, and equipment that has one is asked about it.
    return own
      ? own.model.class === 'end' || ([4, 6] as const).some((family) => context.addresses(own, family).length)
      : context.familiesOf(role).length;
  });
  return addressed.length ? addressed : roles;
}

/** The address by which others reach a device: its first readable one beyond its own link. */
export const mainAddress = (context: CheckContext, instance: Instance, family: 4 | 6): Address | null =>
  context.addresses(instance, family)[0]?.address ?? null;
