import { Type } from '@sinclair/typebox';
import { plural } from '../../../plural';
import { type Instance, instanceId } from '../../../engine';
import { type LinkEnd, type PortConfig, Closed, Line, Maybe, OneOf } from '../../../topology';
import {
  type CheckContext,
  type Item,
  type Place,
  type Slot,
  Ref,
  absent,
  compared,
  defineRule,
  eachRole,
  lost,
  met,
  placeOf,
} from '../../rule';
import { eachLinkedPair } from '../cabling';
import { type OwnLink, instanceLinks } from '../links';

export const Vlan = Type.Integer({ minimum: 1, maximum: 4094 });
const vlanSlot = { type: 'number', min: 1, max: 4094 } as const satisfies Slot;
const isSwitch = (instance: Instance): boolean => [...instance.ports.values()].some(({ switched }) => switched);

/** VLANs by their numbers, as people write them: "10, 20-22". */
const VlanList = Type.String({ pattern: '^[0-9]{1,4}(-[0-9]{1,4})?( *, *[0-9]{1,4}(-[0-9]{1,4})?)*$', maxLength: 200 });
export function vlansIn(text: string): number[] | null {
  const found = text.split(',').flatMap((part) => {
    const [from, to = from] = part.trim().split('-').map(Number) as [number, number?];
    if (!(from >= 1 && to <= 4094 && from <= to)) return [NaN];
    return Array.from({ length: to - from + 1 }, (_, at) => from + at);
  });
  return found.some(Number.isNaN) ? null : [...new Set(found)].sort((a, b) => a - b);
}
const vlanTrouble = (text: string): string | null =>
  /^[1-9][0-9]{0,3}$/.test(text) && Number(text) <= 4094 ? null : `"${text}" is no VLAN from 1 to 4094.`;
/** A VLAN that a sentence may leave out; it says the words for that itself. */
export const vlanIfAny = { type: 'text', problem: vlanTrouble, isNumber: true } as const satisfies Slot;
const vlansTrouble = (text: string): string | null =>
  /^[0-9 ,-]+$/.test(text) && vlansIn(text) ? null : `"${text}" is no list of VLANs from 1 to 4094: write "10, 20-22".`;
const vlansSlot = { type: 'text', problem: vlansTrouble } as const satisfies Slot;

export const vlanExistsRule = defineRule({
  kind: 'vlanExists',
  family: 'operation',
  title: 'A VLAN exists, and is named',
  schema: Closed({ kind: Type.Literal('vlanExists'), who: Ref, vlan: Vlan, name: Maybe(Line) }),
  slots: {
    vlan: vlanSlot,
    who: { type: 'ref' },
    name: {
      type: 'text',
      title: 'Its name',
      before: ' under the name ',
      empty: 'its name, or nothing for any',
      problem: () => null,
    },
  },
  fresh: { kind: 'vlanExists', who: '@network', vlan: 10 },
  sentence: 'VLAN {vlan} is there on {who}{name}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      if (!isSwitch(instance)) return absent(`${instance.name} is no switch.`, placeOf(instance));
      const own = instance.settings.vlans?.[String(rule.vlan)];
      // Where VLANs need not be made, one that a port uses is there without a name.
      const used = [...instance.ports.keys()].some((port) =>
        context.student.layer2.vlansAt(instance.id, port).includes(rule.vlan),
      );
      if (own === undefined && (context.student.options.vlanPolicy === 'created' || !used))
        return lost(`${instance.name} has no VLAN ${rule.vlan}.`, placeOf(instance));
      if (rule.name === undefined) return met(`${instance.name} has VLAN ${rule.vlan}.`, placeOf(instance));
      return own?.trim().toLowerCase() === rule.name.trim().toLowerCase()
        ? met(`VLAN ${rule.vlan} of ${instance.name} is called ${own}.`, placeOf(instance))
        : lost(
            own
              ? `VLAN ${rule.vlan} of ${instance.name} is called ${own}.`
              : `VLAN ${rule.vlan} of ${instance.name} has no name.`,
            placeOf(instance),
          );
    }),
});

/** The port of a switch that a device hangs on, through whatever is passive between them. */
export function switchPorts({ student }: CheckContext, instance: Instance): LinkEnd[] {
  return instanceLinks(student, instance).flatMap(({ id, other }) => {
    const channel = student.layer1.channelOf.get(id);
    const end = channel ? (instanceId(channel.a) === instance.id ? channel.b : channel.a) : other;
    const there = student.instances.get(instanceId(end));
    return there?.ports.get(end.port)?.switched ? [end] : [];
  });
}
const endPlace = ({ device, member, port }: LinkEnd): Place => ({
  device,
  ...(member !== undefined && { member }),
  port,
});

type Switched = Extract<NonNullable<PortConfig['role']>, { kind: 'switched' }>;
/** The ports of switches that devices hang on, each with what it does, where that is said. */
const eachSwitchPort = (
  context: CheckContext,
  ref: string,
  judge: (instance: Instance, end: LinkEnd, role: Switched | undefined) => Item,
): Item[] =>
  eachRole(context, ref, (instance) => {
    const ports = switchPorts(context, instance);
    if (!ports.length) return absent(`${instance.name} hangs on no switch.`, placeOf(instance));
    return ports.map((end) => {
      const { role } = context.student.instances.get(instanceId(end))!.ports.get(end.port)!.config;
      return judge(instance, end, role?.kind === 'switched' ? role : undefined);
    });
  });

export const voiceVlanRule = defineRule({
  kind: 'voiceVlan',
  family: 'operation',
  title: 'The VLAN for voice at a device’s port',
  schema: Closed({ kind: Type.Literal('voiceVlan'), who: Ref, vlan: Vlan }),
  slots: { who: { type: 'ref' }, vlan: vlanSlot },
  fresh: { kind: 'voiceVlan', who: '@hosts', vlan: 10 },
  sentence: 'Where {who} are plugged in, the VLAN for voice is {vlan}.',
  evaluate: (rule, context) =>
    eachSwitchPort(context, rule.who, (instance, end, role) => {
      const voice = role?.voiceVlan;
      const isMet = voice === rule.vlan;
      const text = `${instance.name} hangs on a port ${voice === undefined ? 'without a VLAN for voice' : `with VLAN ${voice} for voice`}`;
      return compared(
        isMet,
        `${text}${isMet ? '' : context.mark(`, wanted is ${rule.vlan}`, '', rule.vlan)}.`,
        { found: voice ?? 'none', wanted: rule.vlan },
        endPlace(end),
        placeOf(instance),
      );
    }),
});

export const portVlanRule = defineRule({
  kind: 'portVlan',
  family: 'operation',
  title: 'Devices are in a VLAN',
  schema: Closed({ kind: Type.Literal('portVlan'), who: Ref, vlan: Vlan }),
  slots: { who: { type: 'ref' }, vlan: vlanSlot },
  fresh: { kind: 'portVlan', who: '@hosts', vlan: 10 },
  sentence: 'The VLAN of {who} is {vlan}.',
  evaluate: (rule, context) =>
    eachSwitchPort(context, rule.who, (instance, end, role) => {
      const own = role?.mode === 'trunk' ? (role.native ?? 1) : (role?.accessVlan ?? 1);
      const text = `${instance.name} is in VLAN ${own}`;
      const isMet = own === rule.vlan;
      return compared(
        isMet,
        `${text}${isMet ? '' : context.mark(`, wanted is ${rule.vlan}`, '', rule.vlan)}.`,
        { found: own, wanted: rule.vlan },
        endPlace(end),
        placeOf(instance),
      );
    }),
});

export const ownVlanRule = defineRule({
  kind: 'ownVlan',
  family: 'operation',
  title: 'A group has a VLAN to itself',
  schema: Closed({ kind: Type.Literal('ownVlan'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'ownVlan', who: '@hosts' },
  sentence: 'One VLAN holds {who}, and no other host.',
  evaluate: (rule, context) => {
    const { layer2, layer3, instances } = context.student;
    const domainOf = (id: string): number | null => {
      const point = layer3.nodes.get(id)?.interfaceStates.find((state) => state.point !== null)?.point ?? null;
      return point === null ? null : layer2.domainOf(point);
    };
    const own = new Set(context.roles(rule.who).flatMap((role) => context.device(role)?.id ?? []));
    const count = new Map<number, number>();
    for (const id of own) {
      const domain = domainOf(id);
      if (domain !== null) count.set(domain, (count.get(domain) ?? 0) + 1);
    }
    const [common] = [...count].sort(([a, n], [b, m]) => m - n || a - b)[0] ?? [null];
    const strangers = [...instances.values()].filter(
      ({ id, model }) => model.class === 'end' && !own.has(id) && common !== null && domainOf(id) === common,
    );
    return [
      ...eachRole(context, rule.who, (instance) => {
        const domain = domainOf(instance.id);
        if (domain === null) return absent(`${instance.name} is on no network.`, placeOf(instance));
        const ports = switchPorts(context, instance).map(endPlace);
        return domain === common
          ? met(`${instance.name} is among the others.`, ...ports, placeOf(instance))
          : lost(`${instance.name} is in another VLAN than the others.`, ...ports, placeOf(instance));
      }),
      ...strangers.map((other) =>
        lost(`${other.name} is in the same VLAN.`, ...switchPorts(context, other).map(endPlace), placeOf(other)),
      ),
    ];
  },
});

export const trunkRule = defineRule({
  kind: 'trunk',
  family: 'operation',
  title: 'A trunk carries VLANs',
  schema: Closed({
    kind: Type.Literal('trunk'),
    a: Ref,
    b: Ref,
    vlans: VlanList,
    op: Maybe(OneOf('exactly')),
  }),
  slots: {
    a: { type: 'ref' },
    b: { type: 'ref' },
    op: {
      type: 'choice',
      options: [
        { value: '', text: 'at least' },
        { value: 'exactly', text: 'exactly' },
      ],
    },
    vlans: vlansSlot,
  },
  fresh: { kind: 'trunk', a: '@network', b: '@network', vlans: '10, 20' },
  problems: (rule) => {
    const text = vlansTrouble(rule.vlans);
    return text === null ? [] : [{ place: 'vlans', text }];
  },
  sentence: 'The links between {a} and {b} carry {op} the VLANs {vlans}.',
  evaluate: (rule, context) => {
    const wanted = vlansIn(rule.vlans) ?? [];
    return eachLinkedPair(context, rule.a, rule.b, (links) =>
      links.map((link) => carried(context, link, wanted, rule.op === 'exactly')),
    );
  },
});

function carried(context: CheckContext, link: OwnLink, wanted: readonly number[], exactly: boolean): Item {
  const { student } = context;
  const name = linkName(context, link);
  if (!student.layer1.links.get(link.id)?.up) return lost(`${name} is down.`, { link: link.id });
  // Both ends take part, and a router's end carries what its sub-interfaces are for.
  const sides = [link.mine, link.other].map((end) => ({ end, vlans: new Set(vlansAt(context, end)) }));
  const missing = wanted.filter((vlan) => sides.some(({ vlans }) => !vlans.has(vlan)));
  const blamed = sides.find(({ vlans }) => missing.some((vlan) => !vlans.has(vlan)));
  if (missing.length)
    return lost(`${name} does not carry VLAN ${missing.join(', ')}.`, ...(blamed ? [endPlace(blamed.end)] : []), {
      link: link.id,
    });
  const more = exactly
    ? [...sides[0]!.vlans].filter((vlan) => sides[1]!.vlans.has(vlan) && !wanted.includes(vlan)).sort((a, b) => a - b)
    : [];
  return more.length
    ? lost(
        `${name} also carries VLAN ${more.slice(0, 8).join(', ')}${more.length > 8 ? ', …' : ''}.`,
        endPlace(link.mine),
        { link: link.id },
      )
    : met(`${name} carries ${plural(wanted.length, 'VLAN')}.`, { link: link.id });
}

function vlansAt({ student }: CheckContext, end: LinkEnd): number[] {
  const id = instanceId(end);
  const instance = student.instances.get(id)!;
  if (instance.ports.get(end.port)?.switched) return student.layer2.vlansAt(id, end.port);
  return instance.interfaces.flatMap(([, { on }]) => (on.kind === 'sub' && on.port === end.port ? [on.vlan] : []));
}
const linkName = ({ student }: CheckContext, { mine, other }: OwnLink): string =>
  [mine, other].map((end) => `${student.instances.get(instanceId(end))?.name ?? end.device} ${end.port}`).join(' – ');

export const nativeVlanRule = defineRule({
  kind: 'nativeVlan',
  family: 'operation',
  title: 'The native VLAN of trunks',
  schema: Closed({ kind: Type.Literal('nativeVlan'), a: Ref, b: Ref, vlan: Maybe(Vlan) }),
  slots: {
    a: { type: 'ref' },
    b: { type: 'ref' },
    vlan: {
      type: 'text',
      title: 'Which VLAN',
      before: ', namely ',
      empty: 'a VLAN, or nothing for any but 1',
      problem: vlanTrouble,
      isNumber: true,
    },
  },
  fresh: { kind: 'nativeVlan', a: '@network', b: '@network' },
  sentence: 'At the trunks between {a} and {b} untagged frames have a VLAN of their own, the same at both ends{vlan}.',
  evaluate: (rule, context) =>
    eachLinkedPair(context, rule.a, rule.b, (links) =>
      links.map((link) => {
        const name = linkName(context, link);
        const natives = [link.mine, link.other].map((end) => {
          const role = context.student.instances.get(instanceId(end))?.ports.get(end.port)?.config.role;
          return role?.kind === 'switched' && role.mode === 'trunk' ? (role.native ?? 1) : null;
        });
        const [mine, theirs] = natives;
        const at = [endPlace(link.mine), endPlace(link.other)];
        if (mine === null || theirs === null) return lost(`${name} is no trunk at both ends.`, ...at);
        if (mine !== theirs)
          return lost(`${name}: the native VLAN is ${mine} at one end and ${theirs} at the other.`, ...at);
        const fits = rule.vlan === undefined ? mine !== 1 : mine === rule.vlan;
        return (fits ? met : lost)(`${name}: the native VLAN is ${mine}.`, ...at);
      }),
    ),
});

export const bundleRule = defineRule({
  kind: 'bundle',
  family: 'operation',
  title: 'Links form a bundle',
  schema: Closed({ kind: Type.Literal('bundle'), a: Ref, b: Ref }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' } },
  fresh: { kind: 'bundle', a: '@network', b: '@network' },
  sentence: 'The links between {a} and {b} form a bundle.',
  evaluate: (rule, context) =>
    eachLinkedPair(context, rule.a, rule.b, (links, first, second, wanted) => {
      const formed = links.map((link) => context.student.layer2.bundles.ofLink(link.id));
      const together = formed.find((bundle) => bundle !== null);
      const text = `${first.name} – ${second.name}`;
      const places = [placeOf(first), placeOf(second), ...links.map(({ id }) => ({ link: id }))];
      if (!together) {
        const why = context.student.layer2.bundles.reasons.find(
          ({ at }) => at.device === first.id || at.device === second.id,
        );
        return [lost(`${text}: no bundle formed.${why ? ` ${why.text}` : ''}`, ...places)];
      }
      return [
        together.links.length >= Math.max(2, wanted)
          ? met(`${text}: ${plural(together.links.length, 'link')} work as one.`, ...places)
          : lost(`${text}: only ${plural(together.links.length, 'link')} of the bundle work as one.`, ...places),
      ];
    }),
});

export const treeRootRule = defineRule({
  kind: 'treeRoot',
  family: 'operation',
  title: 'The root of the spanning tree',
  schema: Closed({ kind: Type.Literal('treeRoot'), who: Ref, vlan: Maybe(Vlan) }),
  slots: {
    who: { type: 'ref' },
    vlan: { ...vlanIfAny, title: 'For which VLAN', before: ' for VLAN ', empty: 'a VLAN, or nothing for all of them' },
  },
  fresh: { kind: 'treeRoot', who: '@network' },
  sentence: 'The root of the spanning tree{vlan} is {who}, by a priority that is set.',
  evaluate: (rule, context) => {
    const { tree } = context.student.layer2;
    const asked = rule.vlan === undefined ? tree.trees : [tree.treeOf(rule.vlan)];
    const wanted = new Set(context.roles(rule.who).flatMap((role) => context.device(role)?.id ?? []));
    if (!wanted.size) return [absent(`Nothing in the drawing plays the part of ${context.ref(rule.who)}.`)];
    return asked.flatMap(({ bridges }): Item[] => {
      const roots = [...new Set([...bridges.values()].map(({ root }) => root))];
      if (!roots.length) return [absent('There is no switch that takes part in a spanning tree.')];
      const root = roots.map((id) => context.student.instances.get(id)!);
      const right = root.find(({ id }) => wanted.has(id));
      const places = root.map((instance) => placeOf(instance));
      if (!right) return [lost(`The root is ${root.map(({ name }) => name).join(' and ')}.`, ...places)];
      const others = [...bridges.values()].filter(({ root: of, instance }) => of === right.id && instance !== right.id);
      const { priority } = bridges.get(right.id)!;
      return [
        others.every((other) => other.priority > priority)
          ? met(`The root is ${right.name}, with priority ${priority}.`, placeOf(right))
          : lost(
              `${right.name} is the root by chance: another switch has priority ${priority} as well.`,
              placeOf(right),
            ),
      ];
    });
  },
});

const PORT_SETTINGS = {
  edge: 'are edge ports',
  bpduGuard: 'guard against switches (BPDU guard)',
  security: 'mind who speaks (port security)',
} as const;

export const hostPortsRule = defineRule({
  kind: 'hostPorts',
  family: 'operation',
  title: 'Ports of hosts are set for hosts',
  schema: Closed({ kind: Type.Literal('hostPorts'), who: Ref, what: OneOf('edge', 'bpduGuard', 'security') }),
  slots: {
    who: { type: 'ref' },
    what: { type: 'choice', options: Object.entries(PORT_SETTINGS).map(([value, text]) => ({ value, text })) },
  },
  fresh: { kind: 'hostPorts', who: '@hosts', what: 'edge' },
  sentence: 'The ports that switches have for {who} {what}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const ports = switchPorts(context, instance);
      if (!ports.length) return absent(`${instance.name} hangs on no switch.`, placeOf(instance));
      return ports.map((end) => {
        const there = context.student.instances.get(instanceId(end))!;
        const { role, stp, security } = there.ports.get(end.port)!.config;
        const isSet =
          rule.what === 'edge'
            ? role?.kind === 'switched' && role.edge === true
            : rule.what === 'bpduGuard'
              ? stp?.bpduGuard === true
              : security !== undefined && (security.maxMacs !== undefined || (security.allowed?.length ?? 0) > 0);
        return (isSet ? met : lost)(
          `${there.name} ${end.port}, where ${instance.name} hangs: ${isSet ? 'it is set' : 'it is not set'}.`,
          endPlace(end),
        );
      });
    }),
});

export const unusedOffRule = defineRule({
  kind: 'unusedOff',
  family: 'operation',
  title: 'Unused ports are off',
  schema: Closed({ kind: Type.Literal('unusedOff'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'unusedOff', who: '@network' },
  sentence: 'Ports of {who} that nothing is plugged into are off, or in a VLAN that reaches nothing.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const { student } = context;
      const used = new Set(instanceLinks(student, instance).map(({ mine }) => mine.port));
      const unused = [...instance.ports.values()].filter(({ key, switched }) => switched && !used.has(key));
      if (!isSwitch(instance)) return absent(`${instance.name} is no switch.`, placeOf(instance));
      if (!used.size) return absent(`Nothing is plugged into ${instance.name}.`, placeOf(instance));
      const lively = unused.filter(({ key, config }) => {
        if (config.enabled === false) return false;
        return student.layer2
          .vlansAt(instance.id, key)
          .concat(config.role?.kind === 'switched' ? [] : [1])
          .some((vlan) => isHeard(context, instance, vlan));
      });
      return lively.length
        ? lost(
            `${instance.name} has ${plural(lively.length, 'unused port')} that ${lively.length === 1 ? 'is' : 'are'} on: ${lively
              .slice(0, 6)
              .map(({ key }) => key)
              .join(', ')}${lively.length > 6 ? ', …' : ''}.`,
            ...lively.map(({ key }) => placeOf(instance, { port: key })),
          )
        : met(`All unused ports of ${instance.name} are off.`, placeOf(instance));
    }),
});

/** Whether anybody is on a VLAN of a switch: a port that is up carries it, or the switch has an address in it. */
const isHeard = ({ student }: CheckContext, instance: Instance, vlan: number): boolean =>
  student.layer2.vlanPoint(instance.id, vlan)?.up === true ||
  instance.interfaces.some(([, { on }]) => on.kind === 'svi' && on.vlan === vlan);
