import { Type } from '@sinclair/typebox';
import { instanceId } from '../../../engine';
import { Closed, Line, Maybe, OneOf } from '../../../topology';
import { Ref, compared, defineRule, eachRole, lost, met, placeOf } from '../../rule';
import { Vlan, vlanIfAny } from './switching';

const SECURITY = ['open', 'wpa2', 'wpa3'] as const;
export const wirelessRule = defineRule({
  kind: 'wireless',
  family: 'operation',
  title: 'A wireless network is there, and protected',
  schema: Closed({
    kind: Type.Literal('wireless'),
    who: Ref,
    security: OneOf('open', 'wpa2', 'wpa3'),
    ssid: Maybe(Line),
    vlan: Maybe(Vlan),
    joined: Maybe(Ref),
  }),
  slots: {
    who: { type: 'ref' },
    security: {
      type: 'choice',
      options: [
        { value: 'open', text: 'protected or not' },
        { value: 'wpa2', text: 'protected by WPA2 at least' },
        { value: 'wpa3', text: 'protected by WPA3' },
      ],
    },
    ssid: {
      type: 'text',
      title: 'Its name',
      before: ', called ',
      empty: 'its name, or nothing for any',
      problem: () => null,
    },
    vlan: { ...vlanIfAny, title: 'Its VLAN', before: ', in VLAN ', empty: 'a VLAN, or nothing for any' },
    joined: { type: 'ref', title: 'Who joins it', before: ', joined by ' },
  },
  fresh: { kind: 'wireless', who: '@network', security: 'wpa2' },
  sentence: 'There is a wireless network on {who}, {security}{ssid}{vlan}{joined}.',
  evaluate: (rule, context) => {
    const items = eachRole(context, rule.who, (instance) => {
      const networks = (instance.settings.ssids ?? []).filter(
        ({ ssid }) => rule.ssid === undefined || ssid.trim() === rule.ssid.trim(),
      );
      const elsewhere = rule.vlan === undefined ? undefined : networks.find(({ vlan = 1 }) => vlan !== rule.vlan);
      if (elsewhere)
        return compared(
          false,
          `${elsewhere.ssid} of ${instance.name} is in VLAN ${elsewhere.vlan ?? 1}${context.mark(`, wanted is ${rule.vlan}`, '', rule.vlan)}.`,
          { found: elsewhere.vlan ?? 1, wanted: rule.vlan! },
          placeOf(instance),
        );
      if (!networks.length)
        return lost(
          `${instance.name} has no ${rule.ssid === undefined ? 'wireless network' : `wireless network ${rule.ssid}`}.`,
          placeOf(instance),
        );
      const weak = networks.find(
        ({ security, key }) =>
          SECURITY.indexOf(security) < SECURITY.indexOf(rule.security) || (security !== 'open' && !key),
      );
      return weak
        ? lost(
            `${weak.ssid} of ${instance.name} is ${weak.security === 'open' ? 'open' : weak.key ? weak.security.toUpperCase() : 'without a key'}.`,
            placeOf(instance),
          )
        : met(
            `${networks.map(({ ssid }) => ssid).join(', ')} of ${instance.name} ${networks.length === 1 ? 'is' : 'are'} protected as asked.`,
            placeOf(instance),
          );
    });
    if (rule.joined === undefined) return items;
    // Who joins is linked by radio to one of them, and the link is up.
    const points = new Set(context.roles(rule.who).flatMap((role) => context.devices(role).map(({ id }) => id)));
    const { topology, layer1 } = context.student;
    return [
      ...items,
      ...eachRole(context, rule.joined, (instance) => {
        const radio = Object.entries(topology.links).find(
          ([id, { a, b, medium }]) =>
            medium === 'wireless' &&
            layer1.links.get(id)?.up === true &&
            [a, b].some((end) => instanceId(end) === instance.id) &&
            [a, b].some((end) => points.has(instanceId(end))),
        );
        return radio
          ? met(`${instance.name} has joined.`, { link: radio[0] }, placeOf(instance))
          : lost(`${instance.name} has joined no network of ${context.ref(rule.who)}.`, placeOf(instance));
      }),
    ];
  },
});
