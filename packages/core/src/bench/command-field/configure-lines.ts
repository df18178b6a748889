import { formatAddress, formatPrefix, parseAddress, parsePrefix } from '../../address';
import { byName } from '../../collation';
import {
  addRoute,
  bundlePorts,
  makeTrunks,
  putIntoVlan,
  removeChosen,
  setAutomatic,
  switchedPorts,
} from '../../editing';
import { plural } from '../../plural';
import { type Command, type StaticRoute, type Topology, portsOf } from '../../topology';
import { formatVlans, parseVlan, parseVlans } from '../notation';
import { type Completion, type FieldContext, why } from './completion';
import { devicesLike, matching, nameOf, takeDevice } from './typed-names';

interface Asked {
  verb: string;
  /** What may follow the names, as an example. */
  example: string;
}

/** Whose settings are meant: a pattern, a name at the beginning, else what is chosen; and what follows. */
function whose(text: string, { topology, chosen }: FieldContext): { devices: string[]; rest: string } {
  const inOrder = (ids: readonly string[]): string[] =>
    [...ids].sort((a, b) => byName(nameOf(topology, a), nameOf(topology, b)));
  const [, pattern, after] = /^(\S*\*\S*)\s*(.*)$/s.exec(text.trim()) ?? [];
  if (pattern !== undefined) return { devices: matching(pattern, topology), rest: after!.trim() };
  const { device, rest } = takeDevice(text, topology);
  return device === null ? { devices: inOrder(chosen), rest: text.trim() } : { devices: [device], rest: rest.trim() };
}

/** Lines that complete the name of a device, where none is typed in full yet. */
function nameLines(text: string, { verb, example }: Asked, { topology }: FieldContext, before = ''): Completion[] {
  const like = devicesLike(text.split(/\s+/)[0] ?? '', topology).slice(0, 6);
  if (!like.length) return [why(text ? `There is no device “${text}”` : 'There is no device yet', example)];
  return like.map((id): Completion => ({
    id: `${verb} ${id}`,
    sign: 'set',
    text: `${verb} ${before}${nameOf(topology, id)}`,
    more: `for instance: ${example}`,
    fill: `${verb} ${before}${nameOf(topology, id)} `,
    action: { do: 'fill' },
  }));
}

const line = (title: string, more: string, fill: string, commands: readonly Command[]): Completion => ({
  id: title,
  sign: 'set',
  text: title,
  more,
  fill,
  action: { do: 'edit', title, commands },
});
const whom = (topology: Topology, devices: readonly string[]): string =>
  devices.length === 1 ? nameOf(topology, devices[0]!) : plural(devices.length, 'device');

/** Ports at the beginning of a text, as "p1-p8, u1": those of the device, and what follows; a sentence for one it has not. */
function takePorts(text: string, device: string, topology: Topology): { ports: string[]; rest: string } | string {
  const all = portsOf(topology, topology.devices[device]!).map(({ key }) => key);
  const ports: string[] = [];
  const words = text.split(/[\s,;]+/).filter(Boolean);
  for (const [at, word] of words.entries()) {
    const [, prefix, from, , to] = /^(.*?)(\d+)-(.*?)(\d+)$/.exec(word) ?? [];
    const span =
      prefix !== undefined && Number(to) - Number(from) < 1000
        ? Array.from(
            { length: Math.max(0, Number(to) - Number(from) + 1) },
            (_one, n) => `${prefix}${Number(from) + n}`,
          )
        : [word];
    const missing = span.find((port) => !all.includes(port));
    if (missing === undefined && span.length) ports.push(...span);
    // The first word that is no port ends them; numbers are VLANs.
    else if (ports.length || /^(\d|all$)/i.test(word)) return { ports, rest: words.slice(at).join(' ') };
    else return `${nameOf(topology, device)} has no port “${missing ?? word}”`;
  }
  return { ports, rest: '' };
}

/** "20 SW-1 p1-p8": ports in a VLAN; without ports the VLAN is created there. */
export function vlans(text: string, context: FieldContext): Completion[] {
  const { topology, plan } = context;
  const [, number = '', rest = ''] = /^(\S*)\s*(.*)$/s.exec(text.trim()) ?? [];
  const example = 'vlan 20 SW-1 p1-p8';
  if (!number) return [why('Say which VLAN', `for instance: ${example}`)];
  const vlan = parseVlan(number);
  if (!vlan.ok) return [why(vlan.error, `for instance: ${example}`)];
  const { devices, rest: after } = whose(rest, context);
  const bridges = devices.filter((id) => switchedPorts(topology, id).length);
  if (!devices.length) return nameLines(rest, { verb: 'vlan', example }, context, `${vlan.value} `);
  if (!bridges.length) return [why(`${whom(topology, devices)} has no VLANs`, 'they are those of switches')];
  const name = [...(plan?.tree.nodes.values() ?? [])].find(({ block }) => block.vlan === vlan.value)?.block.name ?? '';
  const commands: Command[] = [];
  let count = 0;
  for (const id of bridges) {
    const taken = takePorts(after, id, topology);
    if (typeof taken === 'string') return [why(taken, `it has ${switchedPorts(topology, id).join(', ')}`)];
    if (taken.rest) return [why(`“${taken.rest}” is no port of ${nameOf(topology, id)}`)];
    const routed = taken.ports.find((port) => !switchedPorts(topology, id).includes(port));
    if (routed !== undefined) return [why(`${nameOf(topology, id)} ${routed} is no port of its bridge`)];
    count += taken.ports.length;
    commands.push(...putIntoVlan(topology, id, taken.ports, vlan.value, name));
  }
  if (!commands.length)
    return [why(`${whom(topology, bridges)} has VLAN ${vlan.value} already`, 'say which ports go in')];
  const where = whom(topology, bridges);
  return [
    line(
      count ? `${where}: ${plural(count, 'port')} in VLAN ${vlan.value}` : `${where}: create VLAN ${vlan.value}`,
      [after, name && `“${name}”`, count ? 'untagged' : ''].filter(Boolean).join(', '),
      `vlan ${text.trim()}`,
      commands,
    ),
  ];
}

/** "SW-1 u1 10,20": trunks; "SW-1 u1" lets all VLANs through. */
export const trunks = (text: string, context: FieldContext): Completion[] => trunkLines(text, context, 'trunk');
/** "99 SW-1 u1": the VLAN that a trunk sends without a tag. */
export function natives(text: string, context: FieldContext): Completion[] {
  const [, number = '', rest = ''] = /^(\S*)\s*(.*)$/s.exec(text.trim()) ?? [];
  const vlan = parseVlan(number);
  return vlan.ok
    ? trunkLines(rest, context, 'native', vlan.value)
    : [why(vlan.error, 'for instance: native 99 SW-1 u1')];
}

function trunkLines(text: string, context: FieldContext, verb: string, native?: number): Completion[] {
  const { topology } = context;
  const example = native === undefined ? 'trunk SW-1 u1 10,20' : 'native 99 SW-1 u1';
  const { devices, rest } = whose(text, context);
  const before = native === undefined ? '' : `${native} `;
  if (!devices.length) return nameLines(text, { verb, example }, context, before);
  const commands: Command[] = [];
  const words: string[] = [];
  for (const id of devices) {
    const taken = takePorts(rest, id, topology);
    if (typeof taken === 'string') return [why(taken, `it has ${switchedPorts(topology, id).join(', ') || 'none'}`)];
    if (!taken.ports.length) return [why(`Say which ports of ${nameOf(topology, id)}`, `for instance: ${example}`)];
    const other = taken.ports.find((port) => !switchedPorts(topology, id).includes(port));
    if (other !== undefined) return [why(`${nameOf(topology, id)} ${other} is no port of a bridge`)];
    const now = topology.devices[id]!.ports?.[taken.ports[0]!]?.role;
    const known = now?.kind === 'switched' && now.mode === 'trunk' ? (now.allowed ?? 'all') : 'all';
    const allowed = taken.rest ? parseVlans(taken.rest) : ({ ok: true, value: known } as const);
    if (!allowed.ok) return [why(allowed.error)];
    commands.push(...makeTrunks(topology, id, taken.ports, allowed.value, native));
    words.push(
      `${taken.ports.join(', ')}: ${allowed.value === 'all' ? 'all VLANs' : `VLANs ${formatVlans(allowed.value)}`} tagged`,
    );
  }
  return [
    line(
      `trunk ${whom(topology, devices)} ${rest}`.trim(),
      [words[0], native === undefined ? '' : `VLAN ${native} without a tag`].filter(Boolean).join(', '),
      `${verb} ${before}${text.trim()}`,
      commands,
    ),
  ];
}

/** "SW-1 u1,u2": one link aggregation group. */
export function bundles(text: string, context: FieldContext): Completion[] {
  const { topology } = context;
  const example = 'bundle SW-1 u1,u2';
  const { devices, rest } = whose(text, context);
  if (!devices.length) return nameLines(text, { verb: 'bundle', example }, context);
  const commands: Command[] = [];
  for (const id of devices) {
    const taken = takePorts(rest, id, topology);
    if (typeof taken === 'string') return [why(taken)];
    if (taken.rest) return [why(`“${taken.rest}” is no port of ${nameOf(topology, id)}`)];
    if (taken.ports.length < 2) return [why('A bundle has two ports or more', `for instance: ${example}`)];
    const bound = Object.values(topology.devices[id]!.settings?.bundles ?? {}).flatMap(({ members }) => members);
    const twice = taken.ports.find((port) => bound.includes(port));
    if (twice !== undefined) return [why(`${nameOf(topology, id)} ${twice} is in a bundle already`)];
    commands.push(...bundlePorts(topology, id, taken.ports));
  }
  return [
    line(
      `bundle ${whom(topology, devices)} ${rest}`,
      'link aggregation that negotiates (LACP)',
      `bundle ${text.trim()}`,
      commands,
    ),
  ];
}

/** "PC-* 10.84.1.1": the gateway of hosts, of either family. */
export function gateways(text: string, context: FieldContext): Completion[] {
  const { topology } = context;
  const example = 'gateway PC-* 10.84.1.1';
  const { devices, rest } = whose(text, context);
  if (!devices.length) return nameLines(text, { verb: 'gateway', example }, context);
  if (!rest) return [why('Say which address the gateway has', `for instance: ${example}`)];
  const read = parseAddress(rest);
  if (!read.ok) return [why(read.error.text)];
  const address = formatAddress(read.value);
  const key = read.value.family === 4 ? 'gateway4' : 'gateway6';
  const commands = devices.map((device): Command => ({ kind: 'setSettings', device, set: { [key]: address } }));
  return [line(`gateway ${whom(topology, devices)} → ${address}`, '', `gateway ${text.trim()}`, commands)];
}

/** "RT-1 10.0.0.0/8 via 10.84.15.2": a static route; "null" in place of "via" and an address discards. */
export function routes(text: string, context: FieldContext): Completion[] {
  const { topology } = context;
  const example = 'route RT-1 10.0.0.0/8 via 10.84.15.2';
  const { devices, rest } = whose(text, context);
  if (!devices.length) return nameLines(text, { verb: 'route', example }, context);
  const [, to = '', next = '', distance] =
    /^(\S*)\s*(?:via\s+|→\s*)?(\S*)(?:\s+(?:distance\s+)?(\d+))?$/i.exec(rest) ?? [];
  if (!to) return [why('Say where the route leads', `for instance: ${example}`)];
  const family = to.includes(':') || next.includes(':') ? 6 : 4;
  const prefix = parsePrefix(/^default$/i.test(to) ? (family === 6 ? '::/0' : '0.0.0.0/0') : to);
  if (!prefix.ok) return [why(prefix.error.text, `for instance: ${example}`)];
  const isNull = /^null$/i.test(next);
  if (!next) return [why('Say the next hop', `for instance: via 10.84.15.2, or null to discard`)];
  const via = isNull ? null : parseAddress(next);
  if (via && !via.ok) return [why(via.error.text)];
  if (via?.ok && via.value.family !== prefix.value.family)
    return [why('Prefix and next hop are of different families')];
  if (distance !== undefined && !(Number(distance) >= 1 && Number(distance) <= 255))
    return [why('A distance is a number from 1 to 255')];
  const route: StaticRoute = {
    prefix: formatPrefix(prefix.value),
    ...(via?.ok && { via: formatAddress(via.value) }),
    ...(distance !== undefined && { distance: Number(distance) }),
  };
  const commands = devices.flatMap((id) => addRoute(topology, id, route));
  const where = isNull ? 'discarded' : `via ${route.via}`;
  return [
    line(
      `route ${whom(topology, devices)}: ${route.prefix} ${where}`,
      distance ? `distance ${distance}` : '',
      `route ${text.trim()}`,
      commands,
    ),
  ];
}

/** "PC-*": addresses come from a server (DHCP). */
export function automatics(text: string, context: FieldContext): Completion[] {
  const { topology } = context;
  const { devices, rest } = whose(text, context);
  if (!devices.length || rest) return nameLines(text.trim(), { verb: 'dhcp', example: 'dhcp PC-*' }, context);
  const { commands, left } = setAutomatic(topology, devices);
  if (!commands.length) return [why(`${whom(topology, devices)} has no port for an address`)];
  const given = devices.length - left.length;
  return [
    line(
      `dhcp ${given === devices.length ? whom(topology, devices) : plural(given, 'device')}`,
      [
        'address and gateway from a server',
        ...(left.length ? [`${plural(left.length, 'device')} without a port for it`] : []),
      ].join(', '),
      `dhcp ${text.trim()}`,
      commands,
    ),
  ];
}

/** "PC-1", "PC-*": devices go, with their links. */
export function deletes(text: string, context: FieldContext): Completion[] {
  const { topology } = context;
  const { devices, rest } = whose(text, context);
  if (!devices.length || rest) return nameLines(text.trim(), { verb: 'delete', example: 'delete PC-*' }, context);
  const links = Object.values(topology.links).filter(
    ({ a, b }) => devices.includes(a.device) || devices.includes(b.device),
  );
  return [
    line(
      `delete ${whom(topology, devices)}`,
      links.length ? `with ${plural(links.length, 'link')}` : '',
      `delete ${text.trim()}`,
      removeChosen(topology, { devices, links: [], sites: [] }),
    ),
  ];
}
