import { Type } from '@sinclair/typebox';
import { plural } from '../../../plural';
import { formatAddress, formatPrefix, parseAddress, sameAddress, samePrefix } from '../../../address';
import { ECHO, type NetworkModel, type RouteSource } from '../../../engine';
import { AddressText, Closed, Count, Maybe, OneOf } from '../../../topology';
import {
  type CheckContext,
  Ref,
  absent,
  defineRule,
  eachRole,
  eachRoleAndFamily,
  lost,
  met,
  placeOf,
} from '../../rule';
import { blockOf, prefixProblem, wayOut } from '../addressing/shared';
import { MOST_FOLLOWED, eachPair, traced, whyNot } from '../connectivity/asking';
import { Family, familySlot } from '../family';

const SOURCES: Readonly<Record<string, { text: string; of: readonly RouteSource[] }>> = {
  static: { text: 'set by hand', of: ['static', 'gateway'] },
  ospf: { text: 'learnt by OSPF', of: ['ospf'] },
  rip: { text: 'learnt by RIP', of: ['rip'] },
  connected: { text: 'of its own interfaces', of: ['connected'] },
};

export const routeRule = defineRule({
  kind: 'route',
  family: 'operation',
  title: 'A route is known',
  schema: Closed({
    kind: Type.Literal('route'),
    who: Ref,
    to: AddressText,
    source: Maybe(OneOf('static', 'ospf', 'rip', 'connected')),
  }),
  slots: {
    who: { type: 'ref' },
    to: { type: 'prefix' },
    source: {
      type: 'choice',
      title: 'How it is known',
      quiet: ', ',
      options: [
        { value: '', text: 'however it is known' },
        ...Object.entries(SOURCES).map(([value, { text }]) => ({ value, text })),
      ],
    },
  },
  fresh: { kind: 'route', who: '@network', to: '0.0.0.0/0' },
  problems: (rule) => prefixProblem('to', rule.to),
  sentence: 'A route to {to} is known to {who}{source}.',
  evaluate: (rule, context) => {
    const wanted = blockOf(rule.to);
    if (!wanted) return [absent(`${rule.to} is no block.`)];
    return eachRole(context, rule.who, (instance) => {
      const routes = context.student.layer3.nodes
        .get(instance.id)!
        .table.all()
        .filter(({ prefix }) => samePrefix(prefix, wanted));
      const text = formatPrefix(wanted);
      if (!routes.length) return lost(`${instance.name} has no route to ${text}.`, placeOf(instance));
      const source = rule.source === undefined ? undefined : SOURCES[rule.source]!;
      const fits = routes.find((route) => route.out !== null && (!source || source.of.includes(route.source)));
      if (fits)
        return met(
          `${instance.name} has ${text}${fits.via ? ` by ${formatAddress(fits.via)}` : ''}.`,
          placeOf(instance),
        );
      return lost(
        routes.some((route) => route.out === null)
          ? `${instance.name} throws away what is for ${text}.`
          : `${instance.name} knows ${text} another way than asked for.`,
        placeOf(instance),
      );
    });
  },
});

export const mostRoutesRule = defineRule({
  kind: 'mostRoutes',
  family: 'operation',
  title: 'Few routes are set by hand',
  schema: Closed({ kind: Type.Literal('mostRoutes'), who: Ref, n: Count }),
  slots: { who: { type: 'ref' }, n: { type: 'number', min: 0, max: 1000 } },
  fresh: { kind: 'mostRoutes', who: '@network', n: 3 },
  sentence: 'At most {n} routes are set by hand on {who}, and ways beyond the own interfaces are known there.',
  one: 'At most {n} route is set by hand on {who}, and ways beyond the own interfaces are known there.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const node = context.student.layer3.nodes.get(instance.id)!;
      const set = instance.settings.routes?.length ?? 0;
      // A router that knows nothing beyond its own interfaces needs no route, and shows nothing.
      if (!node.table.all().some(({ source }) => source !== 'connected'))
        return absent(`${instance.name} knows no way beyond its own interfaces.`, placeOf(instance));
      return (set <= rule.n ? met : lost)(
        `${instance.name} has ${plural(set, 'route')} set by hand.`,
        placeOf(instance),
      );
    }),
});

const MOST_AREA = 4294967295;
const Area = Type.Integer({ minimum: 0, maximum: MOST_AREA });

export const adjacencyRule = defineRule({
  kind: 'adjacency',
  family: 'operation',
  title: 'Routers are OSPF neighbours',
  schema: Closed({ kind: Type.Literal('adjacency'), a: Ref, b: Ref, family: Family, area: Maybe(Area) }),
  slots: {
    a: { type: 'ref' },
    b: { type: 'ref' },
    family: familySlot,
    area: {
      type: 'text',
      title: 'In which area',
      before: ' in area ',
      empty: 'a number from 0, or nothing for any',
      problem: (text) => (/^[0-9]{1,10}$/.test(text) && Number(text) <= MOST_AREA ? null : `"${text}" is no area.`),
      isNumber: true,
    },
  },
  fresh: { kind: 'adjacency', a: '@network', b: '@network' },
  sentence: '{a} and {b}, where they are linked, are neighbours by OSPF for {family}{area}.',
  evaluate: (rule, context) =>
    eachPair(
      context,
      { from: rule.a, to: rule.b, ...(rule.family !== undefined && { family: rule.family }) },
      (pair) => {
        const { ospf, ospf6 } = context.student.layer3;
        const state = pair.family === 4 ? ospf : ospf6;
        const ends = [placeOf(pair.from), placeOf(pair.to)];
        const found = state.adjacencies.find(
          ({ a, b }) =>
            (rule.area === undefined || a.area === rule.area) &&
            [a.node.instance.id, b.node.instance.id].sort().join() === [pair.from.id, pair.to.id].sort().join(),
        );
        const name = `${pair.from.name} and ${pair.to.name}`;
        // Where they are not linked at all, that costs where the link is asked for.
        if (!meet(context.student, pair.from.id, pair.to.id))
          return { ...absent(`${name} are not linked.`, ...ends), code: 'NOT_LINKED', see: 'linked' };
        return found ? met(`${name} are neighbours.`, ...ends) : lost(`${name} are no neighbours.`, ...ends);
      },
      {
        most: MOST_FOLLOWED,
        // Each two once, whichever of them is named first.
        isMeant: (from, to) =>
          isLinkedInReference(context, from, to) &&
          (from < to || !context.roles(rule.a).includes(to) || !context.roles(rule.b).includes(from)),
      },
    ),
});

/** Whether two roles have interfaces in one domain of the reference, so that they could speak to one another. */
function isLinkedInReference({ reference, student, isOwn, device }: CheckContext, from: string, to: string): boolean {
  return isOwn(from) || isOwn(to) ? meet(student, device(from)?.id, device(to)?.id) : meet(reference, from, to);
}
/** Whether two devices have interfaces in one domain. */
function meet({ layer2, layer3 }: NetworkModel, from = '', to = ''): boolean {
  const domains = (id: string): Set<number> =>
    new Set(
      (layer3.nodes.get(id)?.interfaceStates ?? []).flatMap(({ point }) =>
        point === null ? [] : [layer2.domainOf(point)],
      ),
    );
  const own = domains(from);
  return [...domains(to)].some((domain) => own.has(domain));
}

export const routerIdRule = defineRule({
  kind: 'routerId',
  family: 'operation',
  title: 'Router ids are set, and there once',
  schema: Closed({ kind: Type.Literal('routerId'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'routerId', who: '@network' },
  sentence: 'A router id is set on {who} that no other router has.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const { ospf, ospf6 } = context.student.layer3;
      const spoken = [
        { state: ospf, set: instance.settings.ospf?.routerId },
        { state: ospf6, set: instance.settings.ospf6?.routerId },
      ].filter(({ state }) => state.speakers.some((node) => node.instance.id === instance.id));
      if (!spoken.length) return absent(`${instance.name} speaks no OSPF.`, placeOf(instance));
      for (const { state, set } of spoken) {
        if (set === undefined) return lost(`${instance.name} has no router id that is set.`, placeOf(instance));
        const own = state.routerIds.get(instance.id) ?? set;
        const other = [...state.routerIds].find(([id, text]) => id !== instance.id && text === own)?.[0];
        const twin = context.student.instances.get(other ?? '');
        if (twin)
          return lost(`${instance.name} and ${twin.name} have the router id ${own}.`, placeOf(instance), placeOf(twin));
      }
      return met(`${instance.name} has ${spoken.map(({ set }) => set).join(' and ')}.`, placeOf(instance));
    }),
});

export const noAdjacencyRule = defineRule({
  kind: 'quietToHosts',
  family: 'operation',
  title: 'No OSPF towards hosts',
  schema: Closed({ kind: Type.Literal('quietToHosts'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'quietToHosts', who: '@network' },
  sentence: 'Where only hosts listen, nothing is told by OSPF from {who}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const { layer2, layer3, instances } = context.student;
      const states = layer3.nodes.get(instance.id)!.interfaceStates.filter(({ point }) => point !== null);
      const speaks = [layer3.ospf, layer3.ospf6]
        .flatMap(({ interfaces }) => interfaces)
        .filter(({ node }) => node.instance.id === instance.id);
      if (!speaks.length) return absent(`${instance.name} speaks no OSPF.`, placeOf(instance));
      const loud = speaks.filter(({ passive, interfaceState }) => {
        if (passive || interfaceState.point === null) return false;
        const domain = layer2.domainOf(interfaceState.point);
        const others = [...layer3.nodes.values()].filter(
          (node) =>
            node.instance.id !== instance.id &&
            node.interfaceStates.some(({ point }) => point !== null && layer2.domainOf(point) === domain),
        );
        return others.length > 0 && others.every((node) => instances.get(node.instance.id)!.model.class === 'end');
      });
      return loud.length
        ? lost(
            `${instance.name} speaks OSPF to hosts at ${[...new Set(loud.map(({ interfaceState }) => interfaceState.key))].join(', ')}.`,
            placeOf(instance),
          )
        : met(
            `${instance.name} is silent where only hosts listen${states.length ? '' : ' (it has no interface that is up)'}.`,
            placeOf(instance),
          );
    }),
});

export const virtualGatewayRule = defineRule({
  kind: 'virtualGateway',
  family: 'operation',
  title: 'A virtual gateway is active',
  schema: Closed({ kind: Type.Literal('virtualGateway'), who: Ref, routers: Ref, family: Family }),
  slots: { who: { type: 'ref' }, routers: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'virtualGateway', who: '@hosts', routers: '@network' },
  sentence: 'The {family} gateway of {who} is an address shared by {routers}, one of them active.',
  evaluate: (rule, context) => {
    const routers = context.roles(rule.routers).flatMap((role) => context.device(role) ?? []);
    return eachRoleAndFamily(context, rule.who, rule, (instance, family) => {
      const via = wayOut(context, instance, family);
      if (!via) return absent(`${instance.name} has no IPv${family} gateway in use.`, placeOf(instance));
      const text = formatAddress(via);
      const sharing = routers.filter((router) =>
        router.interfaces.some(([, { vrrp }]) =>
          vrrp?.some(({ addresses }) =>
            addresses.some((each) => {
              const read = parseAddress(each.trim());
              return read.ok && sameAddress(read.value, via);
            }),
          ),
        ),
      );
      const active = routers.filter((router) =>
        context.student.layer3.nodes
          .get(router.id)
          ?.interfaceStates.some(({ virtual = [] }) => virtual.some((own) => formatAddress(own) === text)),
      );
      if (sharing.length < 2)
        return lost(
          `${text}, the gateway of ${instance.name}, is shared by ${sharing.length ? `${sharing[0]!.name} alone` : 'nobody'}.`,
          placeOf(instance),
        );
      return active.length === 1
        ? met(`${text}: ${active[0]!.name} is active.`, placeOf(active[0]!), placeOf(instance))
        : lost(
            `${text}: ${active.length ? `${active.map(({ name }) => name).join(' and ')} are active at once` : 'nobody is active'}.`,
            ...sharing.map((router) => placeOf(router)),
          );
    });
  },
});

export const translatedRule = defineRule({
  kind: 'translated',
  family: 'operation',
  title: 'Addresses are translated',
  schema: Closed({ kind: Type.Literal('translated'), from: Ref, to: Ref }),
  slots: { from: { type: 'ref' }, to: { type: 'ref' } },
  fresh: { kind: 'translated', from: '@hosts', to: '@hosts' },
  sentence: 'Packets from {from} to {to} arrive with a translated source address.',
  evaluate: (rule, context) =>
    eachPair(
      context,
      { ...rule, family: '4' },
      (pair) => {
        const ways = pair.addresses.map((address) => traced(context, pair.from, pair.to, address, ECHO));
        const trace = ways.find(({ answer }) => answer === 'yes') ?? ways[0]!;
        const arrow = `${pair.from.name} → ${pair.to.name}`;
        const ends = [placeOf(pair.from), placeOf(pair.to)];
        if (trace.answer !== 'yes') {
          const { why, at } = whyNot(context, pair, trace);
          return absent(`${arrow} fails.${why}`, ...at, ...ends);
        }
        const source = trace.packet && formatAddress(trace.packet.source);
        return trace.source && source !== formatAddress(trace.source)
          ? met(`${arrow} arrives from ${source}.`, ...ends)
          : lost(`${arrow} arrives from ${source}, its own address.`, ...ends);
      },
      { most: MOST_FOLLOWED },
    ),
});

export const filterSizeRule = defineRule({
  kind: 'filterSize',
  family: 'operation',
  title: 'Filters are short',
  schema: Closed({ kind: Type.Literal('filterSize'), who: Ref, n: Count }),
  slots: { who: { type: 'ref' }, n: { type: 'number', min: 1, max: 1000 } },
  fresh: { kind: 'filterSize', who: '@network', n: 5 },
  sentence: 'The filters in use on {who} have at most {n} lines each.',
  one: 'The filters in use on {who} have at most {n} line each.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const used = new Set(
        instance.interfaces.flatMap(([, { filterIn4, filterOut4, filterIn6, filterOut6 }]) =>
          [filterIn4, filterOut4, filterIn6, filterOut6].filter((each) => each !== undefined),
        ),
      );
      const filters = Object.entries(instance.settings.filters ?? {}).filter(([name]) => used.has(name));
      if (!filters.length) return absent(`${instance.name} uses no filter.`, placeOf(instance));
      return filters.map(([name, { rules }]) =>
        (rules.length <= rule.n ? met : lost)(
          `${name} of ${instance.name} has ${plural(rules.length, 'line')}.`,
          placeOf(instance),
        ),
      );
    }),
});
