import { plural } from '../../plural';
import { Type } from '@sinclair/typebox';
import { type Instance, MEDIUM_NAMES, instanceId } from '../../engine';
import { type PortFacts, Closed, Count, Line, ListOf, MEDIA, OneOf } from '../../topology';
import {
  type CheckContext,
  type Item,
  type Place,
  Ref,
  about,
  absent,
  compared,
  defineRule,
  eachRole,
  lost,
  met,
  placeOf,
} from '../rule';
import { isLike } from './like';
import { type OwnLink, instanceLinks, linksBetween } from './links';
import { Whose, strangersAmong, whoseSlot } from './whose';

const mediumOptions = MEDIA.map((value) => ({ value, text: MEDIUM_NAMES[value] }));
const placeOfLink = ({ id, mine, other }: OwnLink): Place[] => [
  { link: id },
  { device: mine.device, port: mine.port },
  { device: other.device, port: other.port },
];
const nameOf = (context: CheckContext, link: OwnLink): string => {
  const device = (end: OwnLink['mine']): string => context.student.topology.devices[end.device]?.name ?? end.device;
  return `${device(link.mine)} ${link.mine.port} – ${device(link.other)} ${link.other.port}`;
};

/**
 * Goes through the links the reference has between two refs. For each pair of roles that are linked there, `judge` gets
 * the student's links between the devices that play them, at least one.
 */
export function eachLinkedPair(
  context: CheckContext,
  a: string,
  b: string,
  judge: (links: OwnLink[], first: Instance, second: Instance, wanted: number) => Item[],
): Item[] {
  const pairs = new Map<string, [string, string, number]>();
  for (const from of context.roles(a))
    for (const to of context.roles(b)) {
      const key = [from, to].sort().join(' ');
      if (from === to || pairs.has(key)) continue;
      const wanted = wantedBetween(context, from, to);
      if (wanted) pairs.set(key, [from, to, wanted]);
    }
  if (!pairs.size) return [absent(`The reference has no link between ${context.ref(a)} and ${context.ref(b)}.`)];
  return [...pairs.values()].flatMap(([from, to, wanted]) => {
    const [first, second] = [context.device(from), context.device(to)];
    const items = (): Item | Item[] => {
      if (!first || !second)
        return absent(`Nothing in the drawing plays the part of ${context.roleName(first ? to : from)}.`);
      const [firsts, seconds] = [context.devices(from), context.devices(to)];
      // One device may do the work of two, which need no link then, and two may do that of one.
      if (firsts.some((one) => seconds.some((other) => one.id === other.id)))
        return met(`${first.name} does the work of both: no link is needed.`, placeOf(first));
      const links = firsts.flatMap((one) => seconds.flatMap((other) => linksBetween(context.student, one, other)));
      return links.length
        ? judge(links, first, second, wanted)
        : {
            ...absent(`${first.name} and ${second.name} are not linked.`, placeOf(first), placeOf(second)),
            code: 'NOT_LINKED',
          };
    };
    return about(items(), [from, to].sort());
  });
}

/** How many links there are between two roles in the reference; of devices that were chosen in the drawing, in that. */
function wantedBetween({ reference, student, isOwn, device }: CheckContext, from: string, to: string): number {
  const own = isOwn(from) || isOwn(to);
  const [a, b] = own ? [device(from), device(to)] : [reference.instances.get(from), reference.instances.get(to)];
  return a && b ? linksBetween(own ? student : reference, a, b).length : 0;
}

/** What is asked of a link costs nothing more where the link itself is missing, and the spec asks for that as well. */
const seeLinked = (items: readonly Item[]): Item[] =>
  items.map((item) =>
    item.code === 'NOT_LINKED' || item.code === 'ABSENT' ? { ...item, see: 'linked' as const } : item,
  );

export const linkedRule = defineRule({
  kind: 'linked',
  family: 'cabling',
  title: 'Devices are linked as in the reference',
  schema: Closed({ kind: Type.Literal('linked'), a: Ref, b: Ref }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' } },
  fresh: { kind: 'linked', a: '@network', b: '@all' },
  sentence: 'Between {a} and {b} there are the links that the lab asks for.',
  evaluate: (rule, context) =>
    eachLinkedPair(context, rule.a, rule.b, (links, first, second, wanted) => {
      const all = context.mark(` of ${plural(wanted, 'link')}`, links.length === 1 ? ' link' : ' links');
      const text = `${first.name} – ${second.name}: ${links.length}${all}.`;
      return [
        links.length >= wanted ? met(text, ...links.flatMap(placeOfLink)) : lost(text, placeOf(first), placeOf(second)),
      ];
    }),
});

export const mediumRule = defineRule({
  kind: 'medium',
  family: 'cabling',
  title: 'Links are of the right medium',
  schema: Closed({ kind: Type.Literal('medium'), a: Ref, b: Ref, media: ListOf(OneOf(...MEDIA), 9) }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' }, media: { type: 'choices', options: mediumOptions } },
  fresh: { kind: 'medium', a: '@network', b: '@network', media: ['straight'] },
  sentence: 'The links between {a} and {b} are {media}.',
  evaluate: (rule, context) =>
    seeLinked(
      eachLinkedPair(context, rule.a, rule.b, (links) =>
        links.map((link) => {
          const text = `${nameOf(context, link)} is ${MEDIUM_NAMES[link.link.medium]}.`;
          return compared(
            rule.media.includes(link.link.medium),
            text,
            { found: link.link.medium, wanted: rule.media.join(' or ') },
            ...placeOfLink(link),
          );
        }),
      ),
    ),
});

export const speedRule = defineRule({
  kind: 'speed',
  family: 'cabling',
  title: 'Links are fast enough',
  schema: Closed({ kind: Type.Literal('speed'), a: Ref, b: Ref, mbps: Count }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' }, mbps: { type: 'number', min: 1, max: 1_000_000 } },
  fresh: { kind: 'speed', a: '@network', b: '@network', mbps: 1000 },
  sentence: 'The links between {a} and {b} run at {mbps} Mb/s or more.',
  evaluate: (rule, context) =>
    seeLinked(
      eachLinkedPair(context, rule.a, rule.b, (links) =>
        links.map((link) => {
          const state = context.student.layer1.links.get(link.id);
          if (!state?.up)
            return lost(`${nameOf(context, link)} is down. ${state?.reason?.text ?? ''}`.trim(), ...placeOfLink(link));
          const text = `${nameOf(context, link)} runs at ${state.speedMbps} Mb/s.`;
          return compared(
            (state.speedMbps ?? 0) >= rule.mbps,
            text,
            { found: state.speedMbps ?? 0, wanted: rule.mbps },
            ...placeOfLink(link),
          );
        }),
      ),
    ),
});

export const linksUpRule = defineRule({
  kind: 'linksUp',
  family: 'cabling',
  title: 'All links pass traffic',
  schema: Closed({ kind: Type.Literal('linksUp'), who: Ref, whose: Whose }),
  slots: { who: { type: 'ref' }, whose: whoseSlot },
  fresh: { kind: 'linksUp', who: '@all' },
  sentence: 'All links of {who} pass traffic{whose}.',
  evaluate: (rule, context) => {
    const seen = new Set<string>();
    const judged = (link: OwnLink): Item => {
      const state = context.student.layer1.links.get(link.id);
      return state?.up
        ? met(`${nameOf(context, link)} passes traffic.`, ...placeOfLink(link))
        : lost(state?.reason?.text ?? `${nameOf(context, link)} is down.`, ...placeOfLink(link));
    };
    const isAsked = ({ mine, other }: OwnLink): boolean =>
      [mine, other].every((end) => context.roleOf(instanceId(end)) !== null);
    const items = eachLinkOf(context, rule.who, judged, seen, rule.whose === 'asked' ? isAsked : undefined);
    if (rule.whose === 'asked') return items;
    // What is drawn beside earns nothing, and loses where it is down.
    const beside = strangersAmong(context, rule.who)
      .flatMap((other) => instanceLinks(context.student, other))
      .filter(({ id }) => !seen.has(id) && seen.add(id))
      .map(judged)
      .filter((item) => !item.met);
    return [...items, ...beside];
  },
});

/** One item for each link at the devices of a ref; a link between two of them is judged once; a device without links is lost. */
function eachLinkOf(
  context: CheckContext,
  ref: string,
  judge: (ownLink: OwnLink) => Item,
  seen = new Set<string>(),
  counts: (ownLink: OwnLink) => boolean = () => true,
): Item[] {
  return eachRole(context, ref, (instance) => {
    const links = instanceLinks(context.student, instance).filter(counts);
    if (!links.length) return lost(`${instance.name} has no link.`, placeOf(instance));
    return links.filter(({ id }) => !seen.has(id) && seen.add(id)).map(judge);
  });
}

export const duplexAgreesRule = defineRule({
  kind: 'duplexAgrees',
  family: 'cabling',
  title: 'Both ends agree on the duplex',
  schema: Closed({ kind: Type.Literal('duplexAgrees'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'duplexAgrees', who: '@network' },
  sentence: 'At the links of {who} both ends agree on speed and duplex.',
  evaluate: (rule, context) =>
    eachLinkOf(context, rule.who, (link) => {
      const state = context.student.layer1.links.get(link.id);
      const warning = state?.warnings.find(({ code }) => code === 'DUPLEX_DIFFERS');
      if (warning) return lost(warning.text, ...placeOfLink(link));
      return state?.reason?.code === 'NO_COMMON_SPEED'
        ? lost(state.reason.text, ...placeOfLink(link))
        : met(`Both ends of ${nameOf(context, link)} agree.`, ...placeOfLink(link));
    }),
});

export const portsLabelledRule = defineRule({
  kind: 'portsLabelled',
  family: 'cabling',
  title: 'Ports are labelled at both ends',
  schema: Closed({ kind: Type.Literal('portsLabelled'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'portsLabelled', who: '@network' },
  sentence: 'At the links between {who} both ends carry a label.',
  evaluate: (rule, context) => {
    const roles = new Set(context.roles(rule.who));
    return eachLinkOf(context, rule.who, (link) => {
      const bare = [link.mine, link.other].filter(
        (end) =>
          roles.has(context.roleOf(end.member === undefined ? end.device : `${end.device}/${end.member}`) ?? '') &&
          !context.student.topology.devices[end.device]?.ports?.[end.port]?.label?.trim(),
      );
      return bare.length
        ? lost(
            `${bare.map((end) => `${context.student.topology.devices[end.device]!.name} ${end.port}`).join(' and ')} ${bare.length === 1 ? 'has' : 'have'} no label.`,
            { link: link.id },
            ...bare.map((end) => ({ device: end.device, port: end.port })),
          )
        : met(`${nameOf(context, link)} is labelled.`, ...placeOfLink(link));
    });
  },
});

export const cableIdsRule = defineRule({
  kind: 'cableIds',
  family: 'cabling',
  title: 'Cables have identifiers of their own',
  schema: Closed({ kind: Type.Literal('cableIds'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'cableIds', who: '@network' },
  sentence: 'Every cable at {who} has an identifier that no other cable has.',
  evaluate: (rule, context) => {
    const count = new Map<string, number>();
    for (const { cableId } of Object.values(context.student.topology.links))
      if (cableId) count.set(cableId, (count.get(cableId) ?? 0) + 1);
    return eachLinkOf(context, rule.who, (link) => {
      const { cableId } = link.link;
      if (!cableId) return lost(`The cable ${nameOf(context, link)} has no identifier.`, ...placeOfLink(link));
      return count.get(cableId) === 1
        ? met(`${nameOf(context, link)} is cable ${cableId}.`, ...placeOfLink(link))
        : lost(`${count.get(cableId)} cables are called ${cableId}.`, ...placeOfLink(link));
    });
  },
});

export const parallelRule = defineRule({
  kind: 'parallel',
  family: 'cabling',
  title: 'Number of links between devices',
  schema: Closed({ kind: Type.Literal('parallel'), a: Ref, b: Ref, n: Count }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' }, n: { type: 'number', min: 1, max: 64 } },
  fresh: { kind: 'parallel', a: '@network', b: '@network', n: 2 },
  sentence: 'Between {a} and {b}, where they are linked, there are {n} links or more.',
  one: 'Between {a} and {b}, where they are linked, there is {n} link or more.',
  evaluate: (rule, context) =>
    eachLinkedPair(context, rule.a, rule.b, (links, first, second) => [
      compared(
        links.length >= rule.n,
        `${first.name} – ${second.name}: ${plural(links.length, 'link')}${context.mark(`, wanted ${rule.n}`, '', rule.n)}.`,
        { found: links.length, wanted: rule.n },
        ...links.flatMap(placeOfLink),
      ),
    ]),
});

export const cableLengthRule = defineRule({
  kind: 'cableLength',
  family: 'cabling',
  title: 'Cables have a length, and are short enough',
  schema: Closed({ kind: Type.Literal('cableLength'), a: Ref, b: Ref, most: Count }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' }, most: { type: 'number', min: 1, max: 100_000 } },
  fresh: { kind: 'cableLength', a: '@network', b: '@network', most: 100 },
  sentence: 'The cables between {a} and {b} have a length, of at most {most} m.',
  evaluate: (rule, context) =>
    seeLinked(
      eachLinkedPair(context, rule.a, rule.b, (links) =>
        links.map((link) => {
          const { lengthM } = link.link;
          const text = nameOf(context, link);
          if (lengthM === undefined) return lost(`${text} has no length.`, ...placeOfLink(link));
          return compared(
            lengthM <= rule.most,
            `${text} is ${lengthM} m long.`,
            { found: lengthM, wanted: rule.most },
            ...placeOfLink(link),
          );
        }),
      ),
    ),
});

/** The copper that two ports need that find no pairing by themselves (IEEE 802.3 clause 40.4.4). */
const pairingOf = (a: PortFacts | undefined, b: PortFacts | undefined): 'straight' | 'crossover' | null =>
  a?.connector === 'copper' && b?.connector === 'copper' && a.pairing !== undefined && b.pairing !== undefined
    ? a.pairing === b.pairing
      ? 'crossover'
      : 'straight'
    : null;

export const pairingRule = defineRule({
  kind: 'pairing',
  family: 'cabling',
  title: 'Copper is paired as its ports need',
  schema: Closed({ kind: Type.Literal('pairing'), a: Ref, b: Ref }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' } },
  fresh: { kind: 'pairing', a: '@network', b: '@all' },
  sentence: 'Between {a} and {b} copper is crossed where both ports are alike, and straight where they are not.',
  evaluate: (rule, context) => {
    const factsOf = (end: OwnLink['mine']): PortFacts | undefined =>
      context.student.instances.get(instanceId(end))?.ports.get(end.port)?.facts;
    return seeLinked(
      eachLinkedPair(context, rule.a, rule.b, (links) =>
        links.map((link) => {
          const wanted = pairingOf(factsOf(link.mine), factsOf(link.other));
          const text = `${nameOf(context, link)} is ${MEDIUM_NAMES[link.link.medium]}`;
          if (wanted === null) return met(`${text}, where nothing is to be paired.`, ...placeOfLink(link));
          return (link.link.medium === wanted ? met : lost)(`${text}.`, ...placeOfLink(link));
        }),
      ),
    );
  },
});

export const portUsedRule = defineRule({
  kind: 'portUsed',
  family: 'cabling',
  title: 'A link is at a given port',
  schema: Closed({ kind: Type.Literal('portUsed'), who: Ref, to: Ref, port: Line }),
  slots: {
    who: { type: 'ref' },
    to: { type: 'ref' },
    port: {
      type: 'text',
      problem: (text) => (text.trim() === '' ? 'Write a port, as in "u1", or a pattern, as in "u#".' : null),
    },
  },
  fresh: { kind: 'portUsed', who: '@network', to: '@network', port: 'u#' },
  problems: (rule) =>
    rule.port.trim() === '' || rule.port.length > 80 ? [{ place: 'port', text: 'A port has 1 to 80 letters.' }] : [],
  sentence: 'On {who} the links to {to} are at ports like {port}.',
  evaluate: (rule, context) =>
    seeLinked(
      eachLinkedPair(context, rule.who, rule.to, (links, first) =>
        links.map((link) =>
          (isLike(link.mine.port, rule.port) ? met : lost)(
            `${nameOf(context, link)} is at ${link.mine.port} of ${first.name}.`,
            ...placeOfLink(link),
          ),
        ),
      ),
    ),
});

export const labelAgreesRule = defineRule({
  kind: 'labelAgrees',
  family: 'cabling',
  title: 'Labels name the port that they are written at',
  schema: Closed({ kind: Type.Literal('labelAgrees'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'labelAgrees', who: '@network' },
  sentence: 'The labels at the cabled ports of {who} name the port that they are written at.',
  evaluate: (rule, context) =>
    eachLinkOf(context, rule.who, (link) => {
      const roles = new Set(context.roles(rule.who));
      const own = [link.mine, link.other].filter((end) => roles.has(context.roleOf(instanceId(end)) ?? ''));
      const ends = own.map((end) => {
        const label = context.student.topology.devices[end.device]?.ports?.[end.port]?.label?.trim();
        return { end, label, name: `${context.student.topology.devices[end.device]?.name ?? ''} ${end.port}` };
      });
      const bare = ends.find(({ label }) => !label);
      if (bare)
        return {
          ...absent(`${bare.name} has no label.`, { device: bare.end.device, port: bare.end.port }),
          see: 'labelled',
        };
      // Others may stand beside it, as where the cable leads; a word of the label must be the port.
      const wrong = ends.find(
        ({ end, label }) =>
          !label!
            .toLowerCase()
            .split(/[^\p{L}\p{N}/.]+/u)
            .includes(end.port.toLowerCase()),
      );
      return wrong
        ? lost(`The label at ${wrong.name} is “${wrong.label}”.`, { device: wrong.end.device, port: wrong.end.port })
        : met(`${nameOf(context, link)} is labelled so.`, ...placeOfLink(link));
    }),
});
