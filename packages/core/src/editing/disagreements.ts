import { type Instance, type NetworkModel, instanceId, neighbourhoodsOf, timersOf } from '../engine';
import { type Command, type LinkEnd, type PortConfig, entriesById, entryOf } from '../topology';
import { type SiblingRepair } from './siblings';

/** One end of a link, with its device; or an interface by its name. */
interface End {
  readonly instance: Instance;
  readonly port: string;
}
/** Something that both ends should have alike, as each of them has it. */
interface Differing<E extends End = End> {
  readonly field: string;
  readonly sort: string;
  /** What an end has, in words that go on after its name. */
  readonly words: (end: E) => string;
  /** What makes an end as the other one is; null where it cannot be. */
  readonly command: (end: E, other: E) => Command | null;
  /** Whether an end that is made so lets more through. */
  readonly opens?: (other: E) => boolean;
}

/**
 * What the two ends of a link have otherwise than one another, where they must agree: trunk or VLAN (IEEE 802.1Q), speed
 * (IEEE 802.3); and two routers on one wire: area and intervals of OSPF of either version (RFC 2328 §10.5, RFC 5340).
 * Nothing of the drawing says which of them is wrong: each is made as the other in turn.
 */
export function disagreements(model: NetworkModel): SiblingRepair[] {
  const ofLinks = entriesById(model.topology.links).flatMap(([id, link]) => {
    const [a, b] = [endOf(model, link.a), endOf(model, link.b)];
    return a && b ? eitherWay(['links', id], a, b, [...ofRoles(a, b), ...ofSpeeds(a, b)]) : [];
  });
  return [...ofLinks, ...ofRouting(model)];
}

/** Each of two ends made as the other, in what differs. */
const eitherWay = <E extends End>(
  between: readonly string[],
  a: E,
  b: E,
  differing: readonly Differing<E>[],
): SiblingRepair[] =>
  differing.flatMap(({ field, sort, words, command, opens }) =>
    (
      [
        [a, b],
        [b, a],
      ] as const
    ).flatMap(([end, other]): SiblingRepair[] => {
      const made = command(end, other);
      return made
        ? [
            {
              // One thing for both ways: made as one another at once they would differ as before.
              thing: JSON.stringify([...between, field]),
              sort,
              places: [a, b].map(({ instance, port }) => ({ device: instance.id, port })),
              text: `${called(a)} ${words(a)}, ${called(b)} ${words(b)}: they do not agree.`,
              at: `${called(a)} and ${called(b)}`,
              field,
              repair: [`${called(end)} as ${called(other)}`],
              alike: null,
              commands: [made],
              ...(opens?.(other) && { opens: true }),
            },
          ]
        : [];
    }),
  );

const endOf = ({ instances }: NetworkModel, end: LinkEnd): End | null => {
  const instance = instances.get(instanceId(end));
  return instance ? { instance, port: end.port } : null;
};
const called = ({ instance, port }: End): string => `${instance.name} ${port}`;

type Switched = Extract<NonNullable<PortConfig['role']>, { kind: 'switched' }>;
/** How a port of a switch is set; null for all others. */
function switchedAt({ instance, port }: End): Switched | null {
  const found = instance.ports.get(port);
  if (!found?.switched || instance.model.bridges !== 'vlan') return null;
  const { role } = found.config;
  return role === undefined ? { kind: 'switched', mode: 'access' } : role.kind === 'switched' ? role : null;
}

function ofRoles(a: End, b: End): Differing[] {
  const [one, other] = [switchedAt(a), switchedAt(b)];
  if (!one || !other) return [];
  const isTrunk = ({ mode }: Switched): boolean => mode === 'trunk';
  const isAlike =
    isTrunk(one) === isTrunk(other) && (isTrunk(one) || (one.accessVlan ?? 1) === (other.accessVlan ?? 1));
  if (isAlike) return [];
  return [
    {
      field: isTrunk(one) === isTrunk(other) ? 'the VLAN' : 'trunk or VLAN',
      sort: 'ports role',
      words: (end) => {
        const role = switchedAt(end)!;
        return isTrunk(role) ? 'is a trunk' : `is in VLAN ${role.accessVlan ?? 1}`;
      },
      command: (end, from) => edit(end, 'ports', end.port, ['role'], switchedAt(from)!),
      opens: (from) => isTrunk(switchedAt(from)!),
    },
  ];
}

function ofSpeeds(a: End, b: End): Differing[] {
  const speedOf = ({ instance, port }: End): number | null => {
    const speed = instance.ports.get(port)?.config.speed;
    return typeof speed === 'number' ? speed : null;
  };
  const [one, other] = [speedOf(a), speedOf(b)];
  if (one === null || other === null || one === other) return [];
  return [
    {
      field: 'the speed',
      sort: 'ports speed',
      words: (end) => `is set to ${speedOf(end)} Mb/s`,
      command: (end, from) =>
        end.instance.ports.get(end.port)!.facts.speeds.includes(speedOf(from)!)
          ? edit(end, 'ports', end.port, ['speed'], speedOf(from))
          : null,
    },
  ];
}

/** An interface that takes part in OSPF. */
interface Speaker extends End {
  readonly protocol: 'ospf' | 'ospf6';
  readonly area: number;
  readonly timers: { readonly hello: number; readonly dead: number };
}

/** Routers on one wire, in one subnet for IPv4, each compared with the first of them. */
function ofRouting({ layer3 }: NetworkModel): SiblingRepair[] {
  return (['ospf', 'ospf6'] as const).flatMap((protocol) =>
    [...neighbourhoodsOf(layer3[protocol])].flatMap((around) => {
      const [first, ...others] = around.map((each): Speaker => {
        const { node, interfaceState, area } = each;
        return { instance: node.instance, port: interfaceState.key, protocol, area, timers: timersOf(each) };
      });
      return others.flatMap((other) =>
        first!.instance === other.instance
          ? []
          : eitherWay(
              [protocol, ...[first!, other].flatMap(({ instance, port }) => [instance.id, port])],
              first!,
              other,
              OF_OSPF.filter(({ valueOf }) => valueOf(first!) !== valueOf(other)).map(
                ({ property, valueOf, words }) => ({
                  field:
                    property === 'area'
                      ? `the area of ${NAMES[protocol]}`
                      : `the ${property} interval of ${NAMES[protocol]}`,
                  sort: `interfaces ${protocol}`,
                  words,
                  command: (end, from) => edit(end, 'interfaces', end.port, [protocol, property], valueOf(from)),
                }),
              ),
            ),
      );
    }),
  );
}
const NAMES = { ospf: 'OSPF', ospf6: 'OSPFv3' } as const;
const OF_OSPF = [
  {
    property: 'area',
    valueOf: ({ area }: Speaker) => area,
    words: ({ area, protocol }: Speaker) => `is in area ${area} of ${NAMES[protocol]}`,
  },
  ...(['hello', 'dead'] as const).map((property) => ({
    property,
    valueOf: ({ timers }: Speaker) => timers[property],
    words: ({ timers }: Speaker) => `has a ${property} interval of ${timers[property]} s`,
  })),
];

/** Sets something of a port or an interface, where it stands: at the member or at the tile. */
function edit(
  { instance: { deviceId, member, device } }: End,
  map: 'ports' | 'interfaces',
  key: string,
  rest: readonly string[],
  value: unknown,
): Command {
  const own: Readonly<Record<string, unknown>> | undefined =
    member === null ? undefined : device.members?.[member]?.[map];
  const isOwn = entryOf(own, key) !== undefined;
  return {
    kind: 'edits',
    edits: [{ path: ['devices', deviceId, ...(isOwn ? ['members', member!] : []), map, key, ...rest], value }],
  };
}
