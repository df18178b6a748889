import { Type } from '@sinclair/typebox';
import { KIND_WORDS, aKindOf, kindWord } from '../kind-words';
import { instanceLinks } from '../links';
import { hostName } from '../../host-name';
import { type Instance } from '../../../engine';
import { DEVICE_KINDS, Closed, Count, Id, OneOf, portsOf } from '../../../topology';
import { Ref, absent, compared, defineRule, eachRole, few, lost, met, placeOf, slot } from '../../rule';

const kindOptions = DEVICE_KINDS.map((value) => ({ value, text: KIND_WORDS[value][1] }));
export const COUNT_WORDS = { atLeast: 'at least', exactly: 'exactly', atMost: 'at most' } as const;
export const countOptions = Object.entries(COUNT_WORDS).map(([value, text]) => ({ value, text }));
const Op = OneOf('atLeast', 'exactly', 'atMost');
type Op = keyof typeof COUNT_WORDS;
export const compare = (op: Op, count: number, n: number): boolean =>
  op === 'atLeast' ? count >= n : op === 'atMost' ? count <= n && count > 0 : count === n;
/** Stands for no site in particular. */
export const ANY_SITE = 'anywhere';

export const deviceCountRule = defineRule({
  kind: 'deviceCount',
  family: 'components',
  title: 'Number of devices of a kind',
  schema: Closed({ kind: Type.Literal('deviceCount'), what: OneOf(...DEVICE_KINDS), op: Op, n: Count, site: Id }),
  slots: {
    site: { type: 'site' },
    op: { type: 'choice', options: countOptions },
    n: { type: 'number', min: 1, max: 5000 },
    what: { type: 'choice', options: kindOptions },
  },
  fresh: { kind: 'deviceCount', what: 'switch', op: 'atLeast', n: 1, site: ANY_SITE },
  words: (rule, names) => [
    ...(rule.site === ANY_SITE ? [slot('site', 'Anywhere')] : ['At ', slot('site', names.site(rule.site))]),
    rule.n === 1 ? ' there is ' : ' there are ',
    slot('op', COUNT_WORDS[rule.op]),
    ' ',
    slot('n', rule.n),
    ' ',
    slot('what', kindWord(rule.what, rule.n)),
    '.',
  ],
  evaluate: (rule, context) => {
    const site = rule.site === ANY_SITE ? undefined : context.siteOf(rule.site);
    if (site === null) return [absent(`No site of the drawing corresponds to ${context.site(rule.site)}.`)];
    const found = [...context.student.instances.values()].filter(
      (instance) => instance.model.kind === rule.what && (site === undefined || instance.device.site === site),
    );
    const wanted = `, wanted ${COUNT_WORDS[rule.op]} ${rule.n}`;
    const text = `${found.length} ${kindWord(rule.what, found.length)}${context.mark(wanted, '', rule.n)}.`;
    const places = found.map((instance) => placeOf(instance));
    const all = site === undefined ? places : [{ site }, ...places];
    const isMet = compare(rule.op, found.length, rule.n);
    const item = compared(isMet, text, { found: found.length, wanted: rule.n }, ...all);
    return [isMet || found.length ? item : { ...absent(text, ...all), values: item.values! }];
  },
});

export const rightKindRule = defineRule({
  kind: 'rightKind',
  family: 'components',
  title: 'Every device of a group is there and of the right kind',
  schema: Closed({ kind: Type.Literal('rightKind'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'rightKind', who: '@all' },
  sentence: 'The drawing has a device of the right kind for {who}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance, role) => {
      const wanted = context.reference.instances.get(role)?.model;
      // Chosen by what it is, it is of the right kind.
      if (!wanted) return met(`${instance.name} is there.`, placeOf(instance));
      return instance.model.kind === wanted.kind
        ? met(`${context.mark(context.roleName(role), aKindOf(wanted.kind))} is ${instance.name}.`, placeOf(instance))
        : lost(
            `${instance.name}, for ${context.mark(context.roleName(role), aKindOf(wanted.kind))}, is a ${instance.model.name}${context.mark(`: wanted is a ${wanted.name}`, '')}.`,
            placeOf(instance),
          );
    }),
});

export const atSiteRule = defineRule({
  kind: 'atSite',
  family: 'components',
  title: 'Devices stand at their site',
  schema: Closed({ kind: Type.Literal('atSite'), who: Ref, site: Id }),
  slots: { who: { type: 'ref' }, site: { type: 'site' } },
  fresh: { kind: 'atSite', who: '@all', site: ANY_SITE },
  sentence: 'The place of {who} is {site}.',
  evaluate: (rule, context) => {
    const site = context.siteOf(rule.site);
    return eachRole(context, rule.who, (instance) => {
      const at = instance.device.site === undefined ? null : context.student.topology.sites[instance.device.site];
      if (rule.site === ANY_SITE)
        return at
          ? met(`${instance.name} stands at ${at.name}.`, placeOf(instance))
          : lost(`${instance.name} stands at no site.`, placeOf(instance));
      if (site === null)
        return lost(
          `No site of the drawing corresponds to ${context.site(rule.site)}: ${instance.name} ${at ? `stands at ${at.name}` : 'stands at no site'}.`,
          placeOf(instance),
        );
      return instance.device.site === site
        ? met(`${instance.name} stands at ${at!.name}.`, placeOf(instance))
        : lost(`${instance.name} stands at ${at?.name ?? 'no site'}.`, placeOf(instance));
    });
  },
});

export const namesUniqueRule = defineRule({
  kind: 'namesUnique',
  family: 'components',
  title: 'Names are unique',
  schema: Closed({ kind: Type.Literal('namesUnique'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'namesUnique', who: '@all' },
  sentence: 'No name of {who} is used twice.',
  evaluate: (rule, context) => {
    const byName = new Map<string, Instance[]>();
    for (const instance of context.student.instances.values()) {
      const name = instance.name.trim().toLowerCase();
      const known = byName.get(name);
      if (known) known.push(instance);
      else byName.set(name, [instance]);
    }
    return eachRole(context, rule.who, (instance) => {
      if (!instance.name.trim()) return lost('A device has no name.', placeOf(instance));
      const same = byName.get(instance.name.trim().toLowerCase())!;
      return same.length === 1
        ? met(`${instance.name} is there once.`, placeOf(instance))
        : lost(`${same.length} devices are called ${instance.name}.`, ...few(same).places);
    });
  },
});

export const hostnameIsNameRule = defineRule({
  kind: 'hostnameIsName',
  family: 'components',
  title: 'Hostname equals the name on the drawing',
  schema: Closed({ kind: Type.Literal('hostnameIsName'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'hostnameIsName', who: '@network' },
  sentence: 'Hostname and name on the drawing are the same for {who}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const { hostname } = instance.settings;
      if (!hostname) return lost(`${instance.name} has no hostname.`, placeOf(instance));
      return hostName(hostname) === hostName(instance.name)
        ? met(`The hostname of ${instance.name} is the same.`, placeOf(instance))
        : lost(`${instance.name} has the hostname ${hostname}.`, placeOf(instance));
    }),
});

export const connectedRule = defineRule({
  kind: 'connected',
  family: 'components',
  title: 'Nothing stands unconnected',
  schema: Closed({ kind: Type.Literal('connected'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'connected', who: '@all' },
  sentence: 'Cables connect {who}, and nothing else stands about unconnected.',
  evaluate: (rule, context) => [
    ...eachRole(context, rule.who, (instance) =>
      instanceLinks(context.student, instance).length
        ? met(`${instance.name} is connected.`, placeOf(instance))
        : lost(`${instance.name} is connected to nothing.`, placeOf(instance)),
    ),
    ...[...context.student.instances.values()]
      .filter((instance) => context.roleOf(instance.id) === null && !instanceLinks(context.student, instance).length)
      .map((instance) =>
        lost(`${instance.name} has no part in the lab and is connected to nothing.`, placeOf(instance)),
      ),
  ],
});

export const accessPortsRule = defineRule({
  kind: 'accessPorts',
  family: 'components',
  title: 'Switches have enough ports',
  schema: Closed({ kind: Type.Literal('accessPorts'), who: Ref, n: Count }),
  slots: { who: { type: 'ref' }, n: { type: 'number', min: 1, max: 512 } },
  fresh: { kind: 'accessPorts', who: '@network', n: 12 },
  sentence: 'There are at least {n} access ports on {who}.',
  one: 'There is at least {n} access port on {who}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const facts = portsOf(context.student.topology, instance.device).filter((port) => port.switched);
      const slowest = Math.min(...facts.map((port) => Math.max(...port.speeds)));
      const count = facts.filter((port) => Math.max(...port.speeds) === slowest).length;
      const text = `${instance.name} has ${count} access ports${context.mark(`, wanted ${rule.n}`, '', rule.n)}.`;
      return compared(count >= rule.n, text, { found: count, wanted: rule.n }, placeOf(instance));
    }),
});

export const poweredRule = defineRule({
  kind: 'powered',
  family: 'components',
  title: 'Devices have power',
  schema: Closed({ kind: Type.Literal('powered'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'powered', who: '@all' },
  sentence: 'There is power for {who}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const dark = context.student.layer1.unpowered.get(instance.id);
      return dark ? lost(dark.text, placeOf(instance)) : met(`${instance.name} has power.`, placeOf(instance));
    }),
});
