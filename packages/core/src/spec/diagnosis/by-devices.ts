import { countUp, takenNames } from '../../editing';
import { type Instance, type NetworkModel, instanceId, splitInstanceId } from '../../engine';
import { type Command, type Device, entriesById } from '../../topology';
import { type Corresponding } from '../corresponding';
import { capital } from '../rule';
import { aKindOf, kindWord } from '../rules/kind-words';
import { type Change, freshId } from './change';
import { addressesOf } from './configured';
import { type Translation } from './translation';

/** Devices of the reference that nobody drew, with their links to those that are there. */
export function missingDevices(translation: Translation, playing: Corresponding): Change[] {
  const { reference, drawn, players } = translation;
  const missing = new Map<string, string[]>();
  for (const { id, deviceId } of reference.instances.values())
    if (!players.has(id)) missing.set(deviceId, [...(missing.get(deviceId) ?? []), id]);
  return [...missing].flatMap(([deviceId, roles]): Change[] => {
    const device = reference.topology.devices[deviceId]!;
    const all = [...reference.instances.values()].filter((each) => each.deviceId === deviceId);
    // Of a tile of which some are there, the others are no device of their own.
    if (all.length > roles.length) return [];
    const id = freshId(drawn.topology.devices, deviceId);
    const plays = roles.map((role) => [role, id + role.slice(deviceId.length)] as const);
    const links = entriesById(reference.topology.links).flatMap(([link, asked]): Command[] => {
      const sides = (['a', 'b'] as const).filter((side) => asked[side].device === deviceId);
      if (sides.length !== 1) return [];
      const [side] = sides as ['a' | 'b'];
      const other = side === 'a' ? 'b' : 'a';
      const player = players.get(instanceId(asked[other]));
      if (player === undefined) return [];
      const far = { ...splitInstanceId(player), port: translation.port(instanceId(asked[other]), asked[other].port) };
      const { bends: _bends, ...rest } = asked;
      return [
        {
          kind: 'connect',
          id: freshId(drawn.topology.links, `repair-${link}`),
          link: { ...rest, [side]: { ...asked[side], device: id }, [other]: far },
        },
      ];
    });
    return [
      {
        thing: JSON.stringify(['devices', id]),
        sort: 'devices',
        what: 'missing',
        source: 'reference',
        commands: [{ kind: 'addDevice', id, device: inWords(translation, playing, device, roles[0]!) }, ...links],
        places: [],
        text: `${capital(aKindOf(all[0]!.model.kind))} is missing: ${device.name} of the reference.`,
        theirText: `${capital(aKindOf(all[0]!.model.kind))} is missing.`,
        at: `the ${kindWord(all[0]!.model.kind, 2)}`,
        field: 'how many there are',
        repair: [`${device.name} added`],
        alike: null,
        fields: 1 + links.length,
        opens: false,
        leftOut: true,
        members: 1,
        plays,
      },
    ];
  });
}
function inWords(translation: Translation, playing: Corresponding, device: Device, role: string): Device {
  const { site: asked, group: _group, ...bare } = device;
  const site = asked === undefined ? null : siteFor(translation, playing, asked);
  const taken = takenNames(translation.drawn.topology);
  const name = taken.has(bare.name) ? countUp(bare.name, taken) : bare.name;
  const rest = { ...bare, name, ...(site !== null && { site }) };
  if (device.members) return rest;
  const { ports, interfaces, settings } = translation.configured(role);
  return {
    ...rest,
    ...(device.ports && { ports }),
    ...(device.interfaces && { interfaces }),
    ...(device.settings && { settings }),
  };
}

/** The site of the drawing that stands for one of the reference; one of the same name where nobody stands there yet. */
function siteFor({ reference, drawn }: Translation, playing: Corresponding, asked: string): string | null {
  const name = reference.topology.sites[asked]?.name;
  return playing.site(asked) ?? entriesById(drawn.topology.sites).find(([, site]) => site.name === name)?.[0] ?? null;
}

/**
 * Devices that play no role: copies, and what should not answer. Where two have one address either may be the copy, whoever
 * of them plays a role: what was left without one plays it then.
 */
export function extraDevices({ drawn, roles }: Translation): Change[] {
  const devices = new Map<string, Instance>();
  for (const instance of drawn.instances.values())
    if (!devices.has(instance.deviceId)) devices.set(instance.deviceId, instance);
  const isPlaying = new Set(
    [...drawn.instances.values()].flatMap(({ id, deviceId }) => (roles.has(id) ? deviceId : [])),
  );
  const likes = likeness(drawn);
  const extra = [...devices.values()].filter(({ deviceId }) => !isPlaying.has(deviceId));
  const copies = [...devices.values()].flatMap((copy): { copy: Instance; like: Instance; role: string }[] => {
    const [like, role] = [likes.get(copy.id), roles.get(copy.id)];
    return like && role !== undefined && copy.member === null ? [{ copy, like, role }] : [];
  });
  const seen = new Map<Instance['model'], number>();
  return extra.flatMap((unplaced): Change[] => {
    const before = seen.get(unplaced.model) ?? 0;
    seen.set(unplaced.model, before + 1);
    return [
      without(unplaced, likes.get(unplaced.id)),
      // A few of a model do: who steps in for whom among many alike is no other mistake.
      ...(before < MOST_STEPPING_IN ? copies : []).flatMap(({ copy, like, role }): Change[] =>
        copy.model === unplaced.model ? [{ ...without(copy, like), plays: [[role, unplaced.id]] }] : [],
      ),
    ];
  });
}
const MOST_STEPPING_IN = 4;

/** By its id, another instance of the same model that has one of its addresses. */
function likeness(drawn: NetworkModel): ReadonlyMap<string, Instance> {
  const owners = new Map<string, Instance[]>();
  const typed = new Map<Instance, string[]>();
  for (const instance of drawn.instances.values()) {
    const addresses = addressesOf(instance);
    typed.set(instance, addresses);
    // Two of a model are enough: whoever asks is at most one of them.
    for (const text of addresses) {
      const have = owners.get(text) ?? [];
      if (have.filter(({ model }) => model === instance.model).length < 2) owners.set(text, [...have, instance]);
    }
  }
  return new Map(
    [...typed].flatMap(([instance, addresses]) => {
      const like = addresses
        .flatMap((text) => owners.get(text)!)
        .find((other) => other !== instance && other.model === instance.model);
      return like ? [[instance.id, like] as const] : [];
    }),
  );
}

const without = ({ id, deviceId, device }: Instance, like: Instance | undefined): Change => ({
  thing: JSON.stringify(['devices', deviceId]),
  sort: 'devices',
  what: 'extra',
  source: 'reference',
  commands: [{ kind: 'removeDevices', ids: [deviceId] }],
  places: [{ device: id }],
  text: like
    ? `${device.name} and ${like.device.name} have the same address, and one of them is one too many.`
    : `${device.name} is one too many.`,
  at: device.name,
  field: '',
  repair: [`${device.name} removed`],
  alike: null,
  fields: 1,
  opens: false,
  leftOut: false,
  isTold: true,
  members: 1,
});
