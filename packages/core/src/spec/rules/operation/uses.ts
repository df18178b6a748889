import { Type } from '@sinclair/typebox';
import { formatAddress } from '../../../address';
import {
  type Instance,
  SIGN_IN_WAYS,
  attemptOf,
  callOf,
  letsIn,
  registrationOf,
  resolveName,
  signIn,
} from '../../../engine';
import { Closed, Line, Maybe, OneOf } from '../../../topology';
import { type Item, Ref, absent, defineRule, eachRole, lost, met, placeOf } from '../../rule';
import { MOST_FOLLOWED, eachPair, probeOf } from '../connectivity/asking';

export const resolvesRule = defineRule({
  kind: 'resolves',
  family: 'operation',
  title: 'A name is known, or its page opens',
  schema: Closed({ kind: Type.Literal('resolves'), who: Ref, name: Line, page: Maybe(OneOf('http', 'https')) }),
  slots: {
    who: { type: 'ref' },
    name: { type: 'text', problem: (text) => (text.trim() === '' ? 'Write a name, as in "news.example".' : null) },
    page: {
      type: 'choice',
      title: 'Whether its page opens',
      quiet: ', and ',
      options: [
        { value: '', text: 'the name alone' },
        { value: 'http', text: 'its page opens by http' },
        { value: 'https', text: 'its page opens by https' },
      ],
    },
  },
  fresh: { kind: 'resolves', who: '@hosts', name: 'news.example' },
  sentence: 'The address of {name} is known to {who}{page}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const { address, text } = resolveName(context.student, instance.id, rule.name);
      if (!address) return lost(`${instance.name}: ${text}`, placeOf(instance));
      if (rule.page === undefined) return met(`${instance.name}: ${text}`, placeOf(instance));
      const probe = probeOf(rule.page === 'http' ? 'tcp 80' : 'tcp 443');
      const target = context.student.reach
        .targets()
        .find((each) => formatAddress(each.address) === formatAddress(address));
      const outcome =
        target && attemptOf(context.student, context.student.reach.ask(instance.id, target, probe), probe);
      return outcome === 'open'
        ? met(`${instance.name} opens the page of ${rule.name} (${formatAddress(address)}).`, placeOf(instance))
        : lost(
            `${instance.name} does not open the page of ${rule.name} (${formatAddress(address)}): ${target ? (outcome ?? 'not certain') : 'nobody has that address'}.`,
            placeOf(instance),
          );
    }),
});

export const callRule = defineRule({
  kind: 'call',
  family: 'operation',
  title: 'Telephones call one another',
  schema: Closed({ kind: Type.Literal('call'), from: Ref, to: Ref }),
  slots: { from: { type: 'ref' }, to: { type: 'ref' } },
  fresh: { kind: 'call', from: '@hosts', to: '@hosts' },
  sentence: '{from} can call {to}.',
  evaluate: (rule, context) =>
    eachPair(
      context,
      { from: rule.from, to: rule.to },
      ({ from, to }) => {
        const { extension } = to.settings.telephony ?? {};
        const ends = [placeOf(from), placeOf(to)];
        if (extension === undefined) return absent(`${to.name} has no extension.`, placeOf(to));
        const registered = registrationOf(context.student, from.id);
        if (registered.answer !== 'yes') return decided(registered, ends);
        return decided(callOf(context.student, from.id, extension), ends);
      },
      { most: MOST_FOLLOWED },
    ),
});

const decided = (
  { answer, text }: { answer: 'yes' | 'no' | 'uncertain'; text: string },
  places: Item['places'],
): Item =>
  answer === 'yes' ? met(text, ...places) : { ...lost(text, ...places), ...(answer === 'uncertain' && { met: null }) };

const WAYS = { ssh: 'ssh', telnet: 'telnet', console: 'the console' } as const;
const waySlot = {
  type: 'choice',
  options: SIGN_IN_WAYS.map((value) => ({ value, text: WAYS[value] })),
} as const;

export const remoteRule = defineRule({
  kind: 'remote',
  family: 'operation',
  title: 'Ways to sign in are open or closed',
  schema: Closed({ kind: Type.Literal('remote'), who: Ref, by: OneOf(...SIGN_IN_WAYS), state: OneOf('on', 'off') }),
  slots: {
    who: { type: 'ref' },
    by: waySlot,
    state: {
      type: 'choice',
      options: [
        { value: 'on', text: 'takes somebody with a password' },
        { value: 'off', text: 'takes nobody' },
      ],
    },
  },
  fresh: { kind: 'remote', who: '@network', by: 'ssh', state: 'on' },
  sentence: 'On {who} {by} {state}.',
  evaluate: (rule, context) => eachRole(context, rule.who, (instance) => judgedSignIn(instance, rule)),
});

function judgedSignIn(
  instance: Instance,
  { by, state }: { readonly by: (typeof SIGN_IN_WAYS)[number]; readonly state: 'on' | 'off' },
): Item {
  const { management } = instance.settings;
  // A device that nobody has set anything on is closed by chance, not by design.
  if (management === undefined)
    return absent(`Nothing is set on ${instance.name} about signing in.`, placeOf(instance));
  if (by === 'console') {
    const guarded = management.console === 'password' || management.console === 'user';
    return (guarded === (state === 'on') ? met : lost)(
      guarded
        ? `The console of ${instance.name} asks for a password.`
        : `The console of ${instance.name} asks nobody for a password.`,
      placeOf(instance),
    );
  }
  const found = letsIn(instance, by, false);
  const isOpen = state === 'on' ? found.answer === 'yes' : management[by] === true;
  return (isOpen === (state === 'on') ? met : lost)(found.text, placeOf(instance));
}

export const signsInRule = defineRule({
  kind: 'signsIn',
  family: 'operation',
  title: 'Somebody can sign in',
  schema: Closed({
    kind: Type.Literal('signsIn'),
    from: Ref,
    to: Ref,
    by: OneOf('ssh', 'telnet'),
    changing: Maybe(OneOf('also', 'refused')),
  }),
  slots: {
    from: { type: 'ref' },
    to: { type: 'ref' },
    by: {
      type: 'choice',
      options: [
        { value: 'ssh', text: 'ssh' },
        { value: 'telnet', text: 'telnet' },
      ],
    },
    changing: {
      type: 'choice',
      title: 'Whether settings can be changed',
      quiet: ', and ',
      options: [
        { value: '', text: 'to look' },
        { value: 'also', text: 'can change settings with a password of its own' },
        { value: 'refused', text: 'cannot change settings' },
      ],
    },
  },
  fresh: { kind: 'signsIn', from: '@hosts', to: '@network', by: 'ssh' },
  sentence: 'From {from} one can sign in at {to} by {by}{changing}.',
  evaluate: (rule, context) =>
    eachPair(
      context,
      { from: rule.from, to: rule.to },
      ({ from, to }) => {
        const ask = (changing: boolean) =>
          signIn(context.student, { from: from.id, to: to.id, address: null, by: rule.by, changing });
        const looking = ask(false);
        const ends = [placeOf(to), placeOf(from)];
        if (looking.answer !== 'yes' || rule.changing === undefined)
          return decided({ ...looking, text: `${from.name}: ${looking.text}` }, ends);
        const changing = ask(true);
        const text = `${from.name}: ${changing.text}`;
        if (rule.changing === 'also') return decided({ ...changing, text }, ends);
        return changing.answer === 'no' ? met(text, ...ends) : lost(text, ...ends);
      },
      { most: MOST_FOLLOWED },
    ),
});
