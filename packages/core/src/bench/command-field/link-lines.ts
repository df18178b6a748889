import { plural } from '../../plural';
import { MEDIUM_NAMES } from '../../engine';
import { type Medium, MEDIA } from '../../topology';
import { cableBetween, hasFreePort, plugsOf } from '../../editing';
import { type Completion, type FieldContext, why } from './completion';
import { devicesLike, matching, nameOf, takeDevice, takePort, withoutTo } from './typed-names';

const takeMedium = (text: string): Medium | undefined => {
  const wanted = text.trim().toLowerCase();
  return wanted === ''
    ? undefined
    : MEDIA.find((medium) => medium === wanted || MEDIUM_NAMES[medium].toLowerCase() === wanted);
};

/** "link T1 SW1", "link T1 e0 SW1 p3 crossover", "link PC-* SW1", and with what is chosen "link to SW1". */
export function links(text: string, context: FieldContext): Completion[] {
  const { topology, chosen } = context;
  const [, pattern, hub] = /^(\S*\*\S*)\s*(.*)$/s.exec(text.trim()) ?? [];
  if (pattern !== undefined) return manyLinks(matching(pattern, topology), pattern, hub!, context);
  const to = /^to(?:\s+(.*))?$/is.exec(text.trim());
  if (to) return manyLinks(chosen, 'what is chosen', to[1] ?? '', context);
  const first = takeDevice(text, topology);
  if (first.device === null)
    return devicesLike(first.rest, topology).length
      ? devicesLike(first.rest, topology).map((id) => ({
          id: `link ${id}`,
          sign: 'link' as const,
          text: `link ${nameOf(topology, id)}`,
          more: 'then the other end',
          fill: `link ${nameOf(topology, id)} `,
          action: { do: 'fill' as const },
        }))
      : [why(`There is no device “${first.rest}”`)];
  const a = first.device;
  const mine = takePort(first.rest, a, topology);
  const second = takeDevice(withoutTo(mine.rest), topology);
  if (second.device === null) return otherEnds(a, mine.port, second.rest, context);
  if (second.device === a) return [why('A link joins two different devices')];
  const theirs = takePort(second.rest, second.device, topology);
  const medium = takeMedium(theirs.rest);
  if (theirs.rest.trim() && !medium)
    return [
      why(
        `“${theirs.rest.trim()}” is no free port and no medium`,
        MEDIA.map((medium) => MEDIUM_NAMES[medium]).join(', '),
      ),
    ];
  return [linkLine(a, mine.port, second.device, theirs.port, medium, context)];
}

function linkLine(
  a: string,
  portA: string | undefined,
  b: string,
  portB: string | undefined,
  medium: Medium | undefined,
  { topology, automatic }: FieldContext,
): Completion {
  const [from, to] = [nameOf(topology, a), nameOf(topology, b)];
  const words = `link ${from}${portA ? ` ${portA}` : ''} ${to}${portB ? ` ${portB}` : ''}`;
  const choose = (more: string): Completion => ({
    id: `choose ${a} ${b}`,
    sign: 'link',
    text: `link ${from} → ${to}`,
    more,
    fill: words,
    action: { do: 'chooseLink', a, b },
  });
  const said = portA !== undefined && portB !== undefined && medium !== undefined;
  if (!automatic && !said) return choose('choose ports and medium');
  const plug = (device: string, port: string | undefined) => {
    const free = plugsOf(topology, device).find((plug) => hasFreePort(topology, plug)) ?? plugsOf(topology, device)[0]!;
    return { ...free, ...(port !== undefined && { port }) };
  };
  const cable = cableBetween(topology, plug(a, portA), plug(b, portB), medium);
  if (!cable) return choose('no two free ports fit together: choose them yourself');
  return {
    id: `link ${a} ${b}`,
    sign: 'link',
    text: `link ${from} ${cable.a.port} → ${to} ${cable.b.port}`,
    more: MEDIUM_NAMES[cable.medium],
    fill: words,
    action: { do: 'link', cable },
  };
}

/** The other ends for a device: those that a text speaks of; without one, the nearest that are not linked to it yet. */
function otherEnds(a: string, port: string | undefined, text: string, context: FieldContext): Completion[] {
  const { topology } = context;
  const linked = new Set(
    Object.values(topology.links).flatMap(({ a: first, b: second }) =>
      first.device === a ? second.device : second.device === a ? first.device : [],
    ),
  );
  const here = topology.devices[a]!.at;
  const away = (id: string): number => {
    const { x, y } = topology.devices[id]!.at;
    return Math.hypot(x - here.x, y - here.y);
  };
  const found = text
    ? devicesLike(text, topology)
    : Object.keys(topology.devices)
        .filter((id) => !linked.has(id))
        .sort((first, second) => away(first) - away(second) || (first < second ? -1 : 1));
  const ends = found
    .filter((id) => id !== a && plugsOf(topology, id).some((plug) => hasFreePort(topology, plug)))
    .slice(0, 6);
  if (text && !ends.length) return [why(`No device with a free port is called “${text.trim()}”`)];
  return [
    // Those that fit at once come before those for which something must be chosen.
    ...ends
      .map((id) => linkLine(a, port, id, undefined, undefined, context))
      .sort((first, second) => Number(first.action?.do !== 'link') - Number(second.action?.do !== 'link')),
    {
      id: `list ${a}`,
      sign: 'find',
      text: `list the links of ${nameOf(topology, a)}`,
      more: plural(linked.size, 'neighbour'),
      fill: `link ${nameOf(topology, a)} `,
      action: { do: 'list', sheet: 'links', devices: [a] },
    },
  ];
}

function manyLinks(devices: readonly string[], what: string, hub: string, { topology, automatic }: FieldContext) {
  if (!automatic) return [why('In this lab ports and media are chosen by hand', 'link two devices at a time')];
  if (!devices.length) return [why(`No device is called “${what}”`)];
  const taken = takeDevice(hub, topology);
  const hubs = taken.device === null ? devicesLike(taken.rest, topology) : [taken.device];
  if (!hubs.length) return [why(`There is no device “${hub.trim()}”`)];
  return hubs
    .filter((id) => !(devices.length === 1 && devices[0] === id))
    .slice(0, 5)
    .map((id): Completion => {
      const those = devices.filter((device) => device !== id);
      return {
        id: `many ${id}`,
        sign: 'link',
        text: `link ${plural(those.length, 'device')} → ${nameOf(topology, id)}`,
        more: 'each by its next free port and the fitting medium',
        fill: `link ${what === 'what is chosen' ? 'to' : what} ${nameOf(topology, id)}`,
        action: { do: 'linkMany', devices: those, to: id },
      };
    });
}
