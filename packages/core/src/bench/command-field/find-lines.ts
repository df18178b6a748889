import { plural } from '../../plural';
import { firstAddressText } from '../../drawing';
import { parseZonedAddress } from '../../address';
import { SIGN_IN_WAYS } from '../../engine';
import { type Device, type Topology, entriesById, modelOf, portsOf } from '../../topology';
import { type Completion, type FieldContext, why } from './completion';
import { devicesLike, nameOf, takeDevice, withoutTo } from './typed-names';

/** A device to jump to, with its model and first address. */
function deviceLine(topology: Topology, id: string): Completion {
  const device = topology.devices[id]!;
  return {
    id: `jump ${id}`,
    sign: 'jump',
    text: device.name,
    more: [modelOf(topology, device)?.name, firstAddressText(device)].filter(Boolean).join(' · '),
    fill: device.name,
    action: { do: 'select', devices: [id] },
  };
}

/** Devices and sites whose name has a text in it. */
export function jumps(text: string, { topology }: FieldContext): Completion[] {
  const sites = entriesById(topology.sites).filter(([, site]) => site.name.toLowerCase().includes(text.toLowerCase()));
  return [
    ...devicesLike(text, topology)
      .slice(0, 4)
      .map((id) => deviceLine(topology, id)),
    ...sites.slice(0, 2).map(([id, site]): Completion => ({
      id: `site ${id}`,
      sign: 'jump',
      text: site.name,
      more: 'site',
      fill: site.name,
      action: { do: 'select', sites: [id] },
    })),
  ];
}

/** Everything whose name, address, model or cable has a text in it. */
export function finds(text: string, { topology }: FieldContext): Completion[] {
  const wanted = text.trim().toLowerCase();
  if (!wanted) return [why('Say what to find', 'a name, an address, a model, a cable')];
  const devices = entriesById(topology.devices).filter(([, device]) => {
    const addresses = Object.values(device.interfaces ?? {}).flatMap(({ v4, v6 }) => [
      ...(v4?.addresses ?? []),
      ...(v6?.addresses ?? []),
    ]);
    return [device.name, modelOf(topology, device)?.name ?? device.model, ...addresses].some((text) =>
      text.toLowerCase().includes(wanted),
    );
  });
  const cables = entriesById(topology.links).filter(([, link]) => link.cableId?.toLowerCase().includes(wanted));
  const chosen = devices.map(([id]) => id);
  if (!chosen.length && !cables.length) return [why(`Nothing has “${text.trim()}” in it`)];
  return [
    ...(chosen.length
      ? [
          {
            id: `find ${wanted}`,
            sign: 'find' as const,
            text: `choose all with “${text.trim()}”`,
            more: plural(chosen.length, 'device'),
            fill: `find ${text.trim()}`,
            action: { do: 'select' as const, devices: chosen },
          },
        ]
      : []),
    ...chosen.slice(0, 4).map((id) => deviceLine(topology, id)),
    ...cables.slice(0, 4).map(([id, link]): Completion => ({
      id: `cable ${id}`,
      sign: 'jump',
      text: link.cableId!,
      more: `${nameOf(topology, link.a.device)} ${link.a.port} – ${nameOf(topology, link.b.device)} ${link.b.port}`,
      fill: `find ${link.cableId!}`,
      action: { do: 'select', links: [id] },
    })),
  ];
}

/** A name of at least two parts (RFC 1123 2.1). */
const HOST_NAME = /^[a-z0-9-]+(\.[a-z0-9-]+)+\.?$/i;

/** Whether a device has an address or gets one. */
const mayHaveAddress = (device: Device): boolean =>
  firstAddressText(device) !== null ||
  [device, ...Object.values(device.members ?? {})].some((element) =>
    Object.values(element.interfaces ?? {}).some(
      ({ v4, v6 }) => v4?.dhcp || v6?.slaac || (v6?.dhcp !== undefined && v6.dhcp !== 'none'),
    ),
  );

export function traces(text: string, { topology }: FieldContext): Completion[] {
  const first = takeDevice(text, topology);
  const addressed = (id: string): boolean => mayHaveAddress(topology.devices[id]!);
  if (first.device === null) {
    const like = devicesLike(first.rest, topology).filter(addressed);
    return like.length
      ? like.slice(0, 6).map((id): Completion => ({
          id: `trace ${id}`,
          sign: 'trace',
          text: `trace ${nameOf(topology, id)}`,
          more: 'then where to',
          fill: `trace ${nameOf(topology, id)} `,
          action: { do: 'fill' },
        }))
      : [why(first.rest ? `No device with an address is called “${first.rest}”` : 'No device has an address yet')];
  }
  const from = first.device;
  const second = takeDevice(withoutTo(first.rest), topology);
  const ends = second.device === null ? devicesLike(second.rest, topology).filter(addressed) : [second.device];
  const found = ends.filter((id) => id !== from).slice(0, 6);
  const typed = second.rest.trim();
  if (!found.length && (parseZonedAddress(typed).ok || HOST_NAME.test(typed)))
    return [
      {
        id: `trace ${from} ${typed}`,
        sign: 'trace',
        text: `trace ${nameOf(topology, from)} → ${typed}`,
        more: parseZonedAddress(typed).ok ? 'an address' : 'a name, as its server tells it',
        fill: `trace ${nameOf(topology, from)} ${typed}`,
        action: { do: 'trace', from, to: '', typed },
      },
    ];
  if (!found.length) return [why(`No other device with an address is called “${typed}”`, 'or type an address')];
  return found.map((to): Completion => ({
    id: `trace ${from} ${to}`,
    sign: 'trace',
    text: `trace ${nameOf(topology, from)} → ${nameOf(topology, to)}`,
    more: firstAddressText(topology.devices[to]!) ?? 'its address is given to it',
    fill: `trace ${nameOf(topology, from)} ${nameOf(topology, to)}`,
    action: { do: 'trace', from, to },
  }));
}

/** "T1 SW1 ssh": whether one can sign in there from here, and change settings. */
export function signIns(text: string, { topology }: FieldContext): Completion[] {
  const first = takeDevice(text, topology);
  const second = first.device === null ? null : takeDevice(withoutTo(first.rest), topology);
  const choose = (rest: string, before: string, then: string, not: string | null): Completion[] => {
    const like = devicesLike(rest, topology).filter((id) => id !== not);
    return like.length
      ? like.slice(0, 6).map((id): Completion => ({
          id: `sign-in ${before}${id}`,
          sign: 'sign-in',
          text: `sign-in ${before}${nameOf(topology, id)}`,
          more: then,
          fill: `sign-in ${before}${nameOf(topology, id)} `,
          action: { do: 'fill' },
        }))
      : [why(rest ? `No other device is called “${rest}”` : 'There is no device yet')];
  };
  if (first.device === null) return choose(first.rest, '', 'then at which device', null);
  const from = first.device;
  const name = nameOf(topology, from);
  if (second!.device === null) return choose(second!.rest, `${name} `, 'then how: ssh, telnet or console', from);
  const to = second!.device;
  const words = second!.rest.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const ways = SIGN_IN_WAYS.filter((way) => !words.length || words.some((word) => way.startsWith(word)));
  const changing = words.some((word) => 'changing'.startsWith(word) && word.length > 1);
  const wanted = ways.length ? ways : changing ? SIGN_IN_WAYS : [];
  if (!wanted.length) return [why(`“${words.join(' ')}” is no way to sign in`, 'ssh, telnet or console')];
  return wanted.flatMap((by) =>
    [changing, !changing].map((also): Completion => ({
      id: `sign-in ${from} ${to} ${by} ${also}`,
      sign: 'sign-in',
      text: `sign-in ${name} → ${nameOf(topology, to)} by ${by}${also ? ', changing settings' : ''}`,
      more: also ? 'and change settings there' : 'to look',
      fill: `sign-in ${name} ${nameOf(topology, to)} ${by}${also ? ' changing' : ''}`,
      action: { do: 'signIn', from, to, by, changing: also },
    })),
  );
}

/** "PH-1 PH-2": whether one telephone reaches the other by its extension. */
export function calls(text: string, { topology }: FieldContext): Completion[] {
  const canCall = (id: string): boolean => topology.devices[id]!.settings?.telephony?.extension !== undefined;
  const first = takeDevice(text, topology);
  const rest = first.device === null ? first.rest : withoutTo(first.rest);
  const second = first.device === null ? null : takeDevice(rest, topology);
  const from = first.device;
  const ends = second?.device != null ? [second.device] : devicesLike(second ? second.rest : rest, topology);
  const found = ends.filter((id) => id !== from && canCall(id)).slice(0, 6);
  if (!found.length) return [why('No other telephone has an extension', 'set it in the inspector')];
  return found.map((to): Completion => {
    const words = from === null ? nameOf(topology, to) : `${nameOf(topology, from)} → ${nameOf(topology, to)}`;
    return {
      id: `call ${words}`,
      sign: 'trace',
      text: `call ${words}`,
      more: from === null ? 'then whom' : `extension ${topology.devices[to]!.settings!.telephony!.extension}`,
      fill: `call ${words.replace(' → ', ' ')}${from === null ? ' ' : ''}`,
      action: from === null ? { do: 'fill' } : { do: 'call', from, to },
    };
  });
}

/** "SW-1 p9": what a laptop gets that is plugged in there. */
export function plugs(text: string, { topology }: FieldContext): Completion[] {
  const { device, rest } = takeDevice(text, topology);
  if (device === null) {
    const found = devicesLike(rest, topology).slice(0, 6);
    return found.length
      ? found.map((id) => ({
          id: `plug ${id}`,
          sign: 'trace',
          text: `plug ${nameOf(topology, id)}`,
          more: 'then into which port',
          fill: `plug ${nameOf(topology, id)} `,
          action: { do: 'fill' },
        }))
      : [why(rest ? `No device is called “${rest}”` : 'There is no device yet')];
  }
  const name = nameOf(topology, device);
  const wanted = rest.trim().toLowerCase();
  const ports = portsOf(topology, topology.devices[device]!).filter(({ connector }) => connector === 'copper');
  const exact = ports.filter(({ key }) => key.toLowerCase() === wanted);
  const found = exact.length ? exact : ports.filter(({ key }) => key.toLowerCase().startsWith(wanted));
  if (!found.length)
    return [why(wanted ? `${name} has no copper port “${rest.trim()}”` : `${name} has no copper port`)];
  return found.slice(0, 6).map(({ key }) => ({
    id: `plug ${device} ${key}`,
    sign: 'trace',
    text: `plug ${name} ${key}`,
    more: 'what a laptop gets there',
    fill: `plug ${name} ${key}`,
    action: { do: 'plug', device, port: key },
  }));
}
