import { Type } from '@sinclair/typebox';
import { parseInterfaceAddress, formatInterfaceAddress, formatAddress, parseAddress } from '../../address';
import { type Instance, type NetworkModel, instanceId } from '../../engine';
import { Closed, Maybe, OneOf, canonicalJson } from '../../topology';
import {
  type CheckContext,
  type Item,
  type Place,
  type Slot,
  Ref,
  absent,
  defineRule,
  lost,
  met,
  placeOf,
} from '../rule';
import { instanceLinks } from './links';

// Where addresses, cables, ports or VLANs are given to students as a table, they are compared with it row by row: what is
// given is prescribed.

/** One row of a table: a key that is equal where the row is, its words, and where it stands. */
interface Row {
  readonly key: string;
  readonly text: string;
  readonly places: Place[];
}
/** The rows of a device; `who` tells devices apart alike in the reference and in a drawing: by the roles they play. */
type Table = (model: NetworkModel, instance: Instance, who: (instance: string) => string) => Row[];

const asWritten = (text: string): string => {
  const read = parseInterfaceAddress(text.trim());
  return read.ok ? formatInterfaceAddress(read.value) : text.trim();
};
const aloneAsWritten = (text: string): string => {
  const read = parseAddress(text.trim());
  return read.ok ? formatAddress(read.value) : text.trim();
};

/** Addresses that are typed, and gateways: on whichever interface of the device they stand. */
const addresses: Table = (_model, instance) => [
  ...instance.interfaces.flatMap(([, { v4, v6 }]) =>
    [...(v4?.addresses ?? []), ...(v6?.addresses ?? [])].map((text) => ({
      key: `address ${asWritten(text)}`,
      text: `${instance.name}: ${asWritten(text)}`,
      places: [placeOf(instance)],
    })),
  ),
  ...([instance.settings.gateway4, instance.settings.gateway6] as const).flatMap((gateway) =>
    gateway === undefined
      ? []
      : [
          {
            key: `gateway ${aloneAsWritten(gateway)}`,
            text: `${instance.name}: gateway ${aloneAsWritten(gateway)}`,
            places: [placeOf(instance)],
          },
        ],
  ),
];

const cables: Table = (model, instance, who) =>
  instanceLinks(model, instance).map(({ id, link, mine, other }) => ({
    key: `${mine.port} ${link.medium} ${who(instanceId(other))} ${other.port}`,
    text: `${instance.name} ${mine.port} – ${model.instances.get(instanceId(other))?.name ?? ''} ${other.port}, ${link.medium}`,
    places: [{ link: id }, placeOf(instance, { port: mine.port })],
  }));

/** Which port leads to whom, by whatever cable. */
const ports: Table = (model, instance, who) =>
  instanceLinks(model, instance).map(({ id, mine, other }) => ({
    key: `${mine.port} ${who(instanceId(other))}`,
    text: `${instance.name} ${mine.port} to ${model.instances.get(instanceId(other))?.name ?? ''}`,
    places: [placeOf(instance, { port: mine.port }), { link: id }],
  }));

/** What switched ports do, and the VLANs by their names. */
const vlans: Table = (_model, instance) => [
  ...[...instance.ports.values()].flatMap(({ key, config: { role } }) => {
    if (role?.kind !== 'switched') return [];
    const words =
      role.mode === 'access'
        ? `access to VLAN ${role.accessVlan ?? 1}${role.voiceVlan === undefined ? '' : `, voice ${role.voiceVlan}`}`
        : `trunk of ${Array.isArray(role.allowed) ? role.allowed.join(', ') : 'all VLANs'}, native ${role.native ?? 1}`;
    const { mode, accessVlan = 1, voiceVlan, allowed = 'all', native = 1 } = role;
    const meant =
      mode === 'access'
        ? { mode, accessVlan, ...(voiceVlan !== undefined && { voiceVlan }) }
        : { mode, native, allowed: Array.isArray(allowed) ? [...new Set(allowed)].sort((a, b) => a - b) : allowed };
    // An access port of VLAN 1 is what every port is that nobody has touched.
    if (mode === 'access' && accessVlan === 1 && voiceVlan === undefined) return [];
    return [
      {
        key: `${key} ${canonicalJson(meant)}`,
        text: `${instance.name} ${key}: ${words}`,
        places: [placeOf(instance, { port: key })],
      },
    ];
  }),
  ...Object.entries(instance.settings.vlans ?? {}).map(([vlan, name]) => ({
    key: `vlan ${vlan} ${name.trim().toLowerCase()}`,
    text: `${instance.name}: VLAN ${vlan}${name && ` ${name}`}`,
    places: [placeOf(instance)],
  })),
];

const TABLES: Readonly<Record<string, { text: string; rows: Table }>> = {
  addresses: { text: 'addresses and gateways', rows: addresses },
  cables: { text: 'cables with their ports', rows: cables },
  ports: { text: 'ports with their neighbours', rows: ports },
  vlans: { text: 'VLANs and what ports do in them', rows: vlans },
};
const beyondSlot = {
  type: 'choice',
  title: 'What stands there beyond it',
  quiet: ', ',
  options: [
    { value: '', text: 'and nothing beyond it', choice: 'counts against it' },
    { value: 'free', text: 'whatever else is there', choice: 'is free' },
  ],
} as const satisfies Slot;

export const asGivenRule = defineRule({
  kind: 'asGiven',
  family: 'documentation',
  title: 'As in a given table',
  schema: Closed({
    kind: Type.Literal('asGiven'),
    what: OneOf(...Object.keys(TABLES)),
    who: Ref,
    beyond: Maybe(OneOf('free')),
  }),
  slots: {
    what: { type: 'choice', options: Object.entries(TABLES).map(([value, { text }]) => ({ value, text })) },
    who: { type: 'ref' },
    beyond: beyondSlot,
  },
  fresh: { kind: 'asGiven', what: 'addresses', who: '@all' },
  sentence: 'The {what} of {who} are as in the given table{beyond}.',
  evaluate: (rule, context) => {
    const { rows } = TABLES[rule.what]!;
    const roles = context.roles(rule.who);
    if (!roles.length) return [absent(`The spec speaks of ${context.ref(rule.who)}, which is nobody.`)];
    const items = roles.flatMap((role): Item[] => rowsOf(context, role, rows, rule.beyond === 'free'));
    return items.length
      ? items
      : [absent(`The reference has no ${TABLES[rule.what]!.text} of ${context.ref(rule.who)} to be a table.`)];
  },
});

/** One item for each row of the table of a role, and for each one that the drawing has beyond it. */
function rowsOf(context: CheckContext, role: string, table: Table, isFree: boolean): Item[] {
  const { reference, student } = context;
  const model = reference.instances.get(role);
  const wanted = model ? table(reference, model, (instance) => instance) : [];
  const instance = context.device(role);
  const about = { roles: [role] };
  if (!instance)
    return wanted.map(() => ({
      ...absent(`Nothing in the drawing plays the part of ${context.roleName(role)}.`),
      about,
    }));
  // A stranger at the other end is no role's device: it is told apart from all of them.
  const found = table(student, instance, (other) => context.roleOf(other) ?? `~${other}`);
  const left = [...found];
  const items = wanted.map((row): Item => {
    const at = left.findIndex(({ key }) => key === row.key);
    if (at < 0)
      return {
        ...lost(`${instance.name} lacks a row${context.mark(`: ${row.text}`, '')}.`, placeOf(instance)),
        about,
      };
    const [here] = left.splice(at, 1);
    return { ...met(`${here!.text}.`, ...here!.places), about };
  });
  const beyond = isFree
    ? []
    : left.map((row): Item => ({ ...lost(`${row.text} is not in the table.`, ...row.places), about }));
  return [...items, ...beyond];
}
