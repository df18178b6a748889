import { type Device, type Topology, emptyTopology, entriesById } from '../../topology';
import { type Plan, emptyPlan } from '../../plan';
import { type PreparedLab, judgeByRequirements } from '../check';

/** What a part of a lab earns. */
export interface HalfLab {
  readonly what: string;
  readonly points: number;
}

type Strip = (device: Device) => Device;

const without =
  (property: 'settings' | 'interfaces' | 'ports', keys: readonly string[]): Strip =>
  (device) => {
    if (property === 'settings')
      return { ...device, ...(device.settings && { settings: omit(device.settings, keys) }) };
    const strip = (map: Device['ports'] | Device['interfaces']): object =>
      Object.fromEntries(entriesById<object>(map).map(([key, each]) => [key, omit(each, keys)]));
    return {
      ...device,
      ...(device[property] && { [property]: strip(device[property]) }),
      ...(device.members && {
        members: Object.fromEntries(
          entriesById(device.members).map(([id, member]) => [
            id,
            { ...member, ...(member[property] && { [property]: strip(member[property]) }) },
          ]),
        ),
      }),
    };
  };
const omit = <T extends object>(value: T, keys: readonly string[]): T =>
  Object.fromEntries(Object.entries(value).filter(([key]) => !keys.includes(key))) as T;
const both =
  (...strips: readonly Strip[]): Strip =>
  (device) =>
    strips.reduce((now, strip) => strip(now), device);

const STRIPPED: readonly (readonly [what: string, strip: Strip])[] = [
  [
    'without any filter',
    both(
      without('settings', ['filters', 'firewall']),
      without('interfaces', ['filterIn4', 'filterOut4', 'filterIn6', 'filterOut6']),
    ),
  ],
  [
    'without routing',
    both(without('settings', ['routes', 'ospf', 'ospf6', 'rip']), without('interfaces', ['ospf', 'ospf6', 'rip'])),
  ],
  ['without VLANs', both(without('settings', ['vlans']), without('ports', ['role']))],
  ['without addresses', both(without('interfaces', ['v4', 'v6']), without('settings', ['gateway4', 'gateway6']))],
  ['without labels', without('ports', ['label'])],
  ['in one site', ({ site: _site, ...device }) => device],
];

/** What the reference earns with a part of it left out, an empty sheet, and the starter as it is. */
export function halvesOf(prepared: PreparedLab, plan: Plan): HalfLab[] {
  const { topology } = prepared.reference;
  const points = (drawing: Topology, own: Plan = plan): number =>
    judgeByRequirements(prepared, { drawing, plan: own }).points;
  const { starter } = prepared.lab;
  return [
    ...STRIPPED.flatMap(([what, strip]): HalfLab[] => {
      const devices = Object.fromEntries(entriesById(topology.devices).map(([id, device]) => [id, strip(device)]));
      const drawing = { ...topology, devices };
      return JSON.stringify(drawing) === JSON.stringify(topology) ? [] : [{ what, points: points(drawing) }];
    }),
    { what: 'without any cable', points: points({ ...topology, links: {} }) },
    { what: 'in one flat subnet', points: points(flat(topology)) },
    ...(starter ? [{ what: 'the starter untouched', points: points(starter, emptyPlan()) }] : []),
    { what: 'an empty sheet', points: points(emptyTopology(), emptyPlan()) },
  ];
}

/** Every host in one subnet and one VLAN, on whatever router there is. */
function flat(topology: Topology): Topology {
  let n = 1;
  const address = (): string => `10.84.${200 + Math.floor(++n / 250)}.${(n % 250) + 1}/16`;
  const retyped = (interfaces: Device['interfaces']): NonNullable<Device['interfaces']> =>
    Object.fromEntries(
      entriesById(interfaces).map(([key, settings]) => [
        key,
        settings.v4?.addresses?.length ? { ...settings, v4: { addresses: [address()] } } : settings,
      ]),
    );
  const devices = Object.fromEntries(
    entriesById(topology.devices).map(([id, device]): [string, Device] => [
      id,
      without('ports', ['role'])({
        ...device,
        ...(device.interfaces && { interfaces: retyped(device.interfaces) }),
        ...(device.members && {
          members: Object.fromEntries(
            entriesById(device.members).map(([member, each]) => [
              member,
              { ...each, ...(each.interfaces && { interfaces: retyped(each.interfaces) }) },
            ]),
          ),
        }),
      }),
    ]),
  );
  return { ...topology, devices };
}
