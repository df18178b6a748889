import { type Instance, type NetworkModel, instanceId } from '../engine';
import { type Command, type LinkEnd, type PortConfig, entriesById, entryOf } from '../topology';
import { type SiblingRepair } from './siblings';

/** One end of a link, with its device. */
interface End {
  readonly instance: Instance;
  readonly port: string;
}
/** Something that both ends should have alike, as each of them has it. */
interface Differing {
  readonly field: string;
  readonly sort: string;
  /** What an end has, in words that go on after its name. */
  readonly words: (end: End) => string;
  /** What makes an end as the other one is; null where it cannot be. */
  readonly command: (end: End, other: End) => Command | null;
  /** Whether an end that is made so lets more through. */
  readonly opens?: (other: End) => boolean;
}

/**
 * What the two ends of a link have otherwise than one another, where they must agree: trunk or VLAN (IEEE 802.1Q), speed
 * (IEEE 802.3), area and intervals of OSPF (RFC 2328 §10.5). Nothing of the drawing says which of them is wrong: each is
 * made as the other in turn.
 */
export function disagreements(model: NetworkModel): SiblingRepair[] {
  return entriesById(model.topology.links).flatMap(([id, link]) => {
    const [a, b] = [endOf(model, link.a), endOf(model, link.b)];
    if (!a || !b) return [];
    return [...ofRoles(a, b), ...ofSpeeds(a, b), ...ofRouting(a, b)].flatMap((differing) =>
      (
        [
          [a, b],
          [b, a],
        ] as const
      ).flatMap(([end, other]): SiblingRepair[] => {
        const command = differing.command(end, other);
        return command
          ? [
              {
                // One thing for both ways: made as one another at once they would differ as before.
                thing: JSON.stringify(['links', id, differing.field]),
                sort: differing.sort,
                places: [a, b].map(({ instance, port }) => ({ device: instance.id, port })),
                text: `${called(a)} ${differing.words(a)}, ${called(b)} ${differing.words(b)}: they do not agree.`,
                at: `${called(a)} and ${called(b)}`,
                field: differing.field,
                repair: [`${called(end)} as ${called(other)}`],
                alike: null,
                commands: [command],
                ...(differing.opens?.(other) && { opens: true }),
              },
            ]
          : [];
      }),
    );
  });
}

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
      command: (end, from) => edit(end, 'ports', ['role'], switchedAt(from)!),
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
          ? edit(end, 'ports', ['speed'], speedOf(from))
          : null,
    },
  ];
}

/** Seconds between hellos, and after which a silent neighbour is gone, where nothing is set (RFC 2328 appendix C.3). */
const INTERVALS = { hello: 10, dead: 40 } as const;

function ofRouting(a: End, b: End): Differing[] {
  return (['ospf', 'ospf6'] as const).flatMap((protocol) => {
    const at = ({ instance, port }: End) =>
      instance.interfaces.find(([, { on }]) => on.kind === 'port' && on.port === port)?.[1][protocol];
    const [one, other] = [at(a), at(b)];
    if (one?.area === undefined || other?.area === undefined) return [];
    const valueOf = (end: End, property: 'area' | 'hello' | 'dead') =>
      property === 'area' ? at(end)!.area! : (at(end)![property] ?? INTERVALS[property]);
    return (['area', 'hello', 'dead'] as const).flatMap((property): Differing[] =>
      valueOf(a, property) === valueOf(b, property)
        ? []
        : [
            {
              field: property === 'area' ? 'the area of OSPF' : `the ${property} interval of OSPF`,
              sort: `interfaces ${protocol}`,
              words: (end) =>
                property === 'area'
                  ? `is in area ${valueOf(end, property)} of OSPF`
                  : `has a ${property} interval of ${valueOf(end, property)} s`,
              command: (end, from) => edit(end, 'interfaces', [protocol, property], valueOf(from, property)),
            },
          ],
    );
  });
}

/** Sets something of a port, or of the interface on it, where it stands: at the member or at the tile. */
function edit(
  { instance: { deviceId, member, device, interfaces }, port }: End,
  map: 'ports' | 'interfaces',
  rest: readonly string[],
  value: unknown,
): Command {
  const key = map === 'ports' ? port : interfaces.find(([, { on }]) => on.kind === 'port' && on.port === port)![0];
  const own: Readonly<Record<string, unknown>> | undefined =
    member === null ? undefined : device.members?.[member]?.[map];
  const isOwn = entryOf(own, key) !== undefined;
  return {
    kind: 'edits',
    edits: [{ path: ['devices', deviceId, ...(isOwn ? ['members', member!] : []), map, key, ...rest], value }],
  };
}
