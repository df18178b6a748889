import { Type } from '@sinclair/typebox';
import { formatPrefix } from '../../address';
import { LINE_ENDS, overlap, sceneOf, textsBox, tilesUnder } from '../../drawing';
import { instanceId } from '../../engine';
import { Closed, Line, ListOf, Maybe } from '../../topology';
import {
  type CheckContext,
  type Item,
  Ref,
  about,
  absent,
  defineRule,
  eachRole,
  familiesFor,
  lost,
  met,
  placeOf,
} from '../rule';
import { commonSubnet } from './addressing';
import { eachLinkedPair } from './cabling';
import { isLike } from './like';

export const titledRule = defineRule({
  kind: 'titled',
  family: 'documentation',
  title: 'Title, author and legend',
  schema: Closed({ kind: Type.Literal('titled') }),
  slots: {},
  fresh: { kind: 'titled' },
  sentence: 'Title, author and legend of the drawing are filled in.',
  // Title and author of a work are written by Sobrin when it is begun: whoever removes them loses, nobody earns by them.
  evaluate: (_rule, context) => {
    const { topology } = context.student;
    // Words on an empty sheet are no documentation of anything.
    const grounded = Object.keys(topology.devices).length > 0;
    return (['title', 'author', 'legend'] as const).map((part): Item => {
      const text = topology[part]?.trim();
      if (!grounded) return absent(text ? 'Nothing is drawn.' : `The ${part} is missing.`);
      if (!text) return lost(`The ${part} is missing.`);
      return { ...met(`The ${part} is filled in.`), by: text, ...(part !== 'legend' && { weight: 0 }) };
    });
  },
});

const patternTrouble = (text: string): string | null => (text.length > 80 ? 'A pattern has at most 80 letters.' : null);

export const notedRule = defineRule({
  kind: 'noted',
  family: 'documentation',
  title: 'Devices have a note',
  schema: Closed({ kind: Type.Literal('noted'), who: Ref, text: Maybe(Line) }),
  slots: {
    who: { type: 'ref' },
    text: {
      type: 'text',
      title: 'What it says',
      before: ' like ',
      empty: 'a pattern: * for anything, # for digits; nothing for any note',
      problem: patternTrouble,
    },
  },
  fresh: { kind: 'noted', who: '@network' },
  problems: (rule) =>
    (rule.text ?? '').length > 80 ? [{ place: 'text', text: 'A pattern has at most 80 letters.' }] : [],
  sentence: 'A note{text} hangs on {who}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      const notes = Object.values(context.student.topology.notes ?? {}).filter(
        ({ anchor }) => anchor?.kind === 'device' && anchor.id === instance.deviceId,
      );
      const written = notes.filter(({ text }) => text.trim());
      if (!written.length) return lost(`${instance.name} has no note.`, placeOf(instance));
      const { text } = rule;
      return text === undefined || written.some((note) => isLike(note.text, text))
        ? { ...met(`${instance.name} has a note.`, placeOf(instance)), by: written.map((note) => note.text).join('\n') }
        : lost(`The note of ${instance.name} says something else.`, placeOf(instance));
    }),
});

export const linksNamedRule = defineRule({
  kind: 'linksNamed',
  family: 'documentation',
  title: 'Links have a word on them',
  schema: Closed({ kind: Type.Literal('linksNamed'), a: Ref, b: Ref }),
  slots: { a: { type: 'ref' }, b: { type: 'ref' } },
  fresh: { kind: 'linksNamed', a: '@network', b: '@network' },
  sentence: 'A word stands on each link between {a} and {b}.',
  evaluate: (rule, context) =>
    eachLinkedPair(context, rule.a, rule.b, (links, first, second) =>
      links.map(({ id, link }) =>
        link.label?.trim()
          ? met(`${first.name} – ${second.name}: “${link.label.trim()}”.`, { link: id })
          : lost(`Nothing is written on ${first.name} – ${second.name}.`, { link: id }),
      ),
    ),
});

export const tableStandsRule = defineRule({
  kind: 'tableStands',
  family: 'documentation',
  title: 'VLANs and subnets stand on the drawing',
  schema: Closed({ kind: Type.Literal('tableStands'), groups: ListOf(Ref, 64) }),
  slots: { groups: { type: 'refs' } },
  fresh: { kind: 'tableStands', groups: [] },
  sentence: 'Legend or notes have a line with subnet and VLAN of each of {groups}, as they are in the drawing.',
  evaluate: (rule, context) => {
    if (!rule.groups.length) return [absent('The requirement names no group.')];
    const lines = linesOf(context);
    return rule.groups.flatMap((ref) => {
      const roles = context.roles(ref);
      const hosts = roles.flatMap((role) => context.device(role) ?? []);
      return familiesFor(context, {}, roles).flatMap((family): Item[] => {
        const subnet = commonSubnet(context, ref, family);
        if (!subnet)
          return about(absent(`No device for ${context.ref(ref)} has an IPv${family} address.`), roles, family);
        const prefix = formatPrefix(subnet);
        const vlans = new Set(hosts.flatMap((host) => vlanAt(context, host.id)));
        const line = lines.find((each) => each.includes(prefix.toLowerCase()));
        const places = hosts.map((host) => placeOf(host));
        if (line === undefined)
          return about(lost(`No line has ${prefix} of ${context.ref(ref)}.`, ...places), roles, family);
        const missing = [...vlans].find(
          (vlan) => !new RegExp(`(?<!\\d)${vlan}(?!\\d)`).test(line.replace(prefix.toLowerCase(), '')),
        );
        return about(
          missing === undefined
            ? { ...met(`${prefix} of ${context.ref(ref)} stands there.`, ...places), by: line }
            : lost(`The line with ${prefix} does not have VLAN ${missing}.`, ...places),
          roles,
          family,
        );
      });
    });
  },
});

/** What is written on a drawing, line by line, in small letters. */
const linesOf = ({ student: { topology } }: CheckContext): string[] =>
  [topology.legend ?? '', ...Object.values(topology.notes ?? {}).map(({ text }) => text)]
    .flatMap((text) => text.split(LINE_ENDS))
    .map((line) => line.toLowerCase());

/** The VLAN that a host's port is in, where its switch has more than the first one. */
function vlanAt({ student }: CheckContext, id: string): number[] {
  const { instances, layer1 } = student;
  for (const channel of layer1.channels)
    for (const [mine, other] of [
      [channel.a, channel.b],
      [channel.b, channel.a],
    ] as const) {
      if (instanceId(mine) !== id) continue;
      const role = instances.get(instanceId(other))?.ports.get(other.port)?.config.role;
      if (role?.kind === 'switched' && role.mode === 'access' && role.accessVlan !== undefined)
        return [role.accessVlan];
    }
  return [];
}

/** In larger drawings a person looks. */
const MOST_LOOKED_AT = 1000;

export const legibleRule = defineRule({
  kind: 'legible',
  family: 'documentation',
  title: 'Names can be read',
  schema: Closed({ kind: Type.Literal('legible'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'legible', who: '@all' },
  sentence: 'On the drawing nothing covers {who} or their names, and no link of others runs through them.',
  evaluate: (rule, context) => {
    const { topology } = context.student;
    if (Object.keys(topology.devices).length > MOST_LOOKED_AT)
      return [{ ...lost(`More than ${MOST_LOOKED_AT} devices are drawn.`), met: null, code: 'UNCERTAIN' }];
    const scene = sceneOf(topology);
    const tiles = [...scene.tiles.values()];
    const crossed = new Map<string, string>();
    for (const [id, line] of scene.lines) for (const { id: tile } of tilesUnder(line, tiles)) crossed.set(tile, id);
    return eachRole(context, rule.who, (instance) => {
      const own = scene.tiles.get(instance.deviceId)!;
      const name = textsBox(own, '');
      const cover = tiles.find((tile) => {
        if (tile.id === own.id) return false;
        const theirs = textsBox(tile, '');
        return [own, name].some((mine) => mine && [tile, theirs].some((other) => other && overlap(mine, other)));
      });
      const place = placeOf(instance);
      if (cover) return lost(`${instance.name} and ${cover.name} lie on one another.`, place, { device: cover.id });
      const link = crossed.get(own.id);
      return link === undefined
        ? met(`${instance.name} stands free.`, place)
        : lost(`A link runs through ${instance.name}.`, place, { link });
    });
  },
});
