import { contains, firstOf, formatAddress, parseInterfaceAddress, parsePrefix, subnetOf } from '../address';
import { firstAddressText } from '../drawing';
import { type EngineOptions, type Reason, MEDIUM_NAMES, fittingMedium, meantType, splitInstanceId } from '../engine';
import {
  type Command,
  type Filter,
  type Link,
  type Medium,
  type PortFacts,
  type Topology,
  modelOf,
  entryOf,
  portOf,
} from '../topology';
import { cableBetween } from './cabling';
import { changeInterface, changePort, rename } from './change';
import { routerIn } from './addressing';
import { countUp, takenNames } from './names';
import { type PlanOfLab, NextAddresses } from './next-addresses';

/** A change that mends a problem for certain, in words. */
export interface Repair {
  readonly text: string;
  readonly commands: readonly Command[];
}

/** The repair of a problem where there is one that is certain; null where a person has to decide. Pure. */
export function repairOf(
  topology: Topology,
  { code, at }: Reason,
  { options = {}, plan }: { options?: Partial<EngineOptions>; plan?: PlanOfLab | undefined } = {},
): Repair | null {
  const link = at.link === undefined ? undefined : entryOf(topology.links, at.link);
  const id = at.device === undefined ? undefined : splitInstanceId(at.device).device;
  const device = id === undefined ? undefined : entryOf(topology.devices, id);
  // Between passive devices no end of the link is what its problem is about.
  if (link && [link.a, link.b].some((end) => isPassive(topology, end)))
    switch (code) {
      case 'WRONG_PAIRING':
        return takeCable(at.link!, link.medium === 'crossover' ? 'straight' : 'crossover');
      case 'CONNECTOR_MISMATCH':
      case 'FIBRE_MISMATCH':
      case 'CONSOLE_CABLE':
      case 'CABLE_BROKEN':
        break;
      default:
        return null;
    }
  switch (code) {
    case 'WRONG_PAIRING':
    case 'CONNECTOR_MISMATCH':
    case 'FIBRE_MISMATCH':
    case 'CONSOLE_CABLE':
      return link ? otherCable(topology, at.link!, link, options.autoPairing ?? true) : null;
    case 'CABLE_BROKEN':
      return { text: 'Take a whole cable', commands: [{ kind: 'setLink', id: at.link!, set: { broken: null } }] };
    case 'PORT_OFF':
      return device && at.port !== undefined && device.ports?.[at.port]?.enabled === false && !device.members
        ? {
            text: `Switch ${device.name} ${at.port} on`,
            commands: [changePort(id!, at.port, { enabled: undefined })],
          }
        : null;
    case 'NO_POWER':
      return device ? power(topology, id!) : null;
    case 'NO_CLOCK':
      return link && !link.a.member
        ? {
            text: `Give the clock at ${topology.devices[link.a.device]!.name}`,
            commands: [changePort(link.a.device, link.a.port, { clockEnd: true })],
          }
        : null;
    case 'TWO_CLOCKS':
      return link && !link.b.member
        ? {
            text: `Give no clock at ${topology.devices[link.b.device]!.name}`,
            commands: [changePort(link.b.device, link.b.port, { clockEnd: undefined })],
          }
        : null;
    case 'DUPLEX_DIFFERS':
    case 'NO_NEGOTIATION':
      return link
        ? {
            text: 'Let both ports find speed and duplex',
            commands: [link.a, link.b].map((end) =>
              changePort(end.device, end.port, { speed: undefined, duplex: undefined }),
            ),
          }
        : null;
    case 'NAME_TWICE': {
      if (!device || at.device!.includes('/')) return null;
      const name = countUp(device.name, takenNames(topology));
      return { text: `Call it ${name}`, commands: rename(topology, id!, name) };
    }
    case 'ADDRESS_UNREADABLE':
    case 'DUPLICATE_ADDRESS':
      return device && at.port !== undefined && !at.device!.includes('/')
        ? otherAddress(topology, id!, at.port, code === 'DUPLICATE_ADDRESS', plan)
        : null;
    case 'HOSTNAME_DIFFERS':
      return device
        ? {
            text: `Let it call itself ${device.name}`,
            commands: [{ kind: 'setSettings', device: id!, set: { hostname: device.name } }],
          }
        : null;
    case 'VLAN_NOT_CREATED': {
      const { vlan } = at;
      return device && vlan !== undefined
        ? {
            text: `Create VLAN ${vlan} on ${device.name}`,
            commands: [
              {
                kind: 'setSettings',
                device: id!,
                set: { vlans: { ...device.settings?.vlans, [vlan]: `VLAN ${vlan}` } },
              },
            ],
          }
        : null;
    }
    case 'STORM': {
      const { on, ...spanningTree } = device?.settings?.spanningTree ?? {};
      return device && on === false
        ? {
            text: `Let ${device.name} take part in the spanning tree`,
            commands: [
              {
                kind: 'setSettings',
                device: id!,
                set: { spanningTree: Object.keys(spanningTree).length ? spanningTree : null },
              },
            ],
          }
        : null;
    }
    case 'NO_GATEWAY':
    case 'GATEWAY_NOT_ROUTER': {
      const text = device ? firstAddressText(device) : null;
      const address = text === null ? null : parseInterfaceAddress(text);
      const router = address?.ok ? routerIn(topology, subnetOf(address.value)) : null;
      return router !== null && id !== undefined
        ? { text: `Set ${router}`, commands: [{ kind: 'setSettings', device: id, set: { gateway4: router } }] }
        : null;
    }
    case 'SLOWER_PORT':
      return link ? fasterPorts(topology, at.link!, link) : null;
    case 'BUNDLE_NOT_FORMED':
      return link ? beginningBundle(topology, link) : null;
    case 'FORWARDING_OFF': {
      const { v4: _off, ...forwarding } = device?.settings?.forwarding ?? {};
      return device
        ? {
            text: `Let ${device.name} forward`,
            commands: [
              {
                kind: 'setSettings',
                device: id!,
                set: { forwarding: Object.keys(forwarding).length ? forwarding : null },
              },
            ],
          }
        : null;
    }
    case 'NAT_SIDE_MISSING':
      return device && !device.members ? sidesOfTranslation(topology, id!) : null;
    case 'ICMP_OTHER_FAMILY':
      return device?.settings?.filters
        ? {
            text: 'Ask for the types of its own family',
            commands: [{ kind: 'setSettings', device: id!, set: { filters: ownTypes(device.settings.filters) } }],
          }
        : null;
    case 'TELNET_OPEN':
      return device
        ? {
            text: 'Take ssh instead',
            commands: [
              {
                kind: 'setSettings',
                device: id!,
                set: { management: { ...device.settings?.management, telnet: false, ssh: true } },
              },
            ],
          }
        : null;
    default:
      return null;
  }
}

/** The outside where the rules say that packets leave, and the inside where the addresses are that they translate. */
function sidesOfTranslation(topology: Topology, id: string): Repair | null {
  const { interfaces = {}, settings } = topology.devices[id]!;
  const rules = settings?.nat ?? [];
  const entries = Object.entries(interfaces);
  const addressesOf = ([, { v4 }]: (typeof entries)[number]) =>
    (v4?.addresses ?? []).flatMap((text) => {
      const read = parseInterfaceAddress(text);
      return read.ok ? [read.value] : [];
    });
  const known = (side: 'inside' | 'outside'): string[] =>
    entries.flatMap(([key, { natSide }]) => (natSide === side ? key : []));
  const leaving = new Set(rules.flatMap(({ outsideInterface }) => outsideInterface ?? []));
  const outside = known('outside').length ? [] : entries.flatMap(([key]) => (leaving.has(key) ? key : []));
  const prefixes = rules.flatMap(({ sources = [], inside }) =>
    [...sources, ...(inside === undefined ? [] : [`${inside}/32`])].flatMap((text) => {
      const read = parsePrefix(text);
      return read.ok ? [read.value] : [];
    }),
  );
  const inside = known('inside').length
    ? []
    : entries.flatMap((entry) => {
        const [key] = entry;
        if (leaving.has(key) || entry[1].natSide !== undefined) return [];
        return addressesOf(entry).some((on) =>
          prefixes.some((prefix) => contains(prefix, on.address) || contains(subnetOf(on), firstOf(prefix))),
        )
          ? key
          : [];
      });
  const isMended = (side: 'inside' | 'outside', found: readonly string[]): boolean =>
    found.length > 0 || known(side).length > 0;
  if (
    !isMended('outside', outside) ||
    (!isMended('inside', inside) && rules.some(({ kind }) => kind !== 'portForward'))
  )
    return null;
  const parts = [
    ...(outside.length ? [`${outside.join(', ')} the outside`] : []),
    ...(inside.length ? [`${inside.join(', ')} the inside`] : []),
  ];
  return {
    text: `Make ${parts.join(' and ')}`,
    commands: [
      ...outside.map((key): Command => ({ kind: 'changeInterface', device: id, key, set: { natSide: 'outside' } })),
      ...inside.map((key): Command => ({ kind: 'changeInterface', device: id, key, set: { natSide: 'inside' } })),
    ],
  };
}

/** The link in the next free ports that are as fast as both devices can. */
function fasterPorts(topology: Topology, id: string, link: Link): Repair | null {
  const { [id]: _old, ...links } = topology.links;
  const end = ({ device, member }: Link['a']) => ({ device, ...(member !== undefined && { member }) });
  const cable = cableBetween({ ...topology, links }, end(link.a), end(link.b));
  if (!cable) return null;
  const name = ({ device, port }: Link['a']): string => `${topology.devices[device]?.name ?? ''} ${port}`;
  return {
    text: `Plug it into ${name(cable.a)} and ${name(cable.b)}`,
    commands: [{ kind: 'setLink', id, set: cable }],
  };
}

/** Of two ends of a bundle that both wait, one begins. */
function beginningBundle(topology: Topology, link: Link): Repair | null {
  const bundleOf = ({ device, port }: Link['a']) =>
    Object.entries(topology.devices[device]?.settings?.bundles ?? {}).find(([, bundle]) =>
      bundle.members.includes(port),
    );
  const [mine, theirs] = [bundleOf(link.a), bundleOf(link.b)];
  if (mine?.[1].protocol !== 'passive' || theirs?.[1].protocol !== 'passive') return null;
  const { device } = link.a;
  const { name, settings } = topology.devices[device]!;
  return {
    text: `Let ${name} begin`,
    commands: [
      {
        kind: 'setSettings',
        device,
        set: { bundles: { ...settings?.bundles, [mine[0]]: { ...mine[1], protocol: 'active' } } },
      },
    ],
  };
}

function otherCable(topology: Topology, id: string, link: Link, autoPairing: boolean): Repair | null {
  const facts = ({ device, port }: Link['a']): PortFacts | undefined => {
    const found = entryOf(topology.devices, device);
    return found && portOf(topology, found, port);
  };
  const [a, b] = [facts(link.a), facts(link.b)];
  // Where the lab's ports do not find their pairing, what a port could do by itself does not count.
  const asBuilt = (facts: PortFacts): PortFacts => (autoPairing ? facts : { ...facts, auto: false });
  const medium = a && b ? fittingMedium(asBuilt(a), asBuilt(b)) : null;
  return medium && medium !== link.medium ? takeCable(id, medium) : null;
}

const takeCable = (id: string, medium: Medium): Repair => ({
  text: `Take ${MEDIUM_NAMES[medium]}`,
  commands: [{ kind: 'setLink', id, set: { medium } }],
});

const isPassive = (topology: Topology, { device }: Link['a']): boolean => {
  const found = entryOf(topology.devices, device);
  return found !== undefined && modelOf(topology, found)?.class === 'passive';
};

function power(topology: Topology, id: string): Repair | null {
  const device = topology.devices[id]!;
  if (device.powered === false)
    return { text: `Switch ${device.name} on`, commands: [{ kind: 'setDevice', id, set: { powered: null } }] };
  const bay = Object.entries(modelOf(topology, device)?.bays ?? {}).find(
    ([key, { accepts }]) => accepts.includes('power') && device.modules?.[key] === undefined,
  )?.[0];
  return bay === undefined
    ? null
    : {
        text: `Put a power supply into ${bay}`,
        commands: [{ kind: 'setDevice', id, set: { modules: { ...device.modules, [bay]: 'power' } } }],
      };
}

/** An address without its stray spaces, or the next free one of its subnet where another device has it as well. */
function otherAddress(
  topology: Topology,
  id: string,
  key: string,
  twice: boolean,
  plan: PlanOfLab | undefined,
): Repair | null {
  const interfaceConfig = topology.devices[id]!.interfaces?.[key];
  const taken = twice ? addressesBeside(topology, id, key) : null;
  for (const family of ['v4', 'v6'] as const) {
    const texts = interfaceConfig?.[family]?.addresses ?? [];
    const at = texts.findIndex((text) => {
      const read = parseInterfaceAddress(text);
      return taken ? read.ok && taken.has(formatAddress(read.value.address)) : !read.ok;
    });
    if (!interfaceConfig || at < 0) continue;
    const old = parseInterfaceAddress(texts[at]!);
    const bare = texts[at]!.replace(/\s+/g, '');
    const next = old.ok
      ? new NextAddresses(topology, plan).take(subnetOf(old.value), old.value.address.value)
      : parseInterfaceAddress(bare).ok
        ? bare
        : null;
    if (next === null) continue;
    const addresses = texts.map((text, index) => (index === at ? next : text));
    return {
      text: old.ok ? `Give ${topology.devices[id]!.name} ${next}` : `Write ${next}`,
      commands: [
        changeInterface(topology, id, key, interfaceConfig, { [family]: { ...interfaceConfig[family], addresses } }),
      ],
    };
  }
  return null;
}

/** All addresses that are typed at other interfaces than one. */
function addressesBeside({ devices }: Topology, id: string, key: string): Set<string> {
  const found = new Set<string>();
  for (const [device, { interfaces = {}, members = {} }] of Object.entries(devices))
    for (const layer of [interfaces, ...Object.values(members).map((member) => member.interfaces ?? {})])
      for (const [name, { v4, v6 }] of Object.entries(layer)) {
        if (device === id && name === key && layer === interfaces) continue;
        for (const text of [...(v4?.addresses ?? []), ...(v6?.addresses ?? [])]) {
          const read = parseInterfaceAddress(text);
          if (read.ok) found.add(formatAddress(read.value.address));
        }
      }
  return found;
}

/** Filters whose rules ask for messages of their own family. */
const ownTypes = (filters: Readonly<Record<string, Filter>>): Record<string, Filter> =>
  Object.fromEntries(
    Object.entries(filters).map(([key, filter]) => [
      key,
      {
        ...filter,
        rules: filter.rules.map((rule) => {
          const meant = meantType(filter, rule.icmpType);
          return meant === null ? rule : { ...rule, icmpType: meant };
        }),
      },
    ]),
  );
