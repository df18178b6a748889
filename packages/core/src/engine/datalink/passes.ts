import { type Link, type LinkEnd, entryOf } from '../../topology';
import { type Instance, type Port, instanceId } from '../devices';
import { sharedNetwork } from '../physical';

/** Whether a bridge passes every VLAN it hears of, or only those created in its database. VLAN 1 always exists. */
export type VlanPolicy = 'implicit' | 'created';

/** The tag on the wire and the VLAN in the bridge that a port joins, and whether both ways or only inwards. */
export type Pass = readonly [tag: number, vlan: number, ways: 'both' | 'in'];

/** Whether what comes in by a port comes over the air, where each link may belong to a VLAN of its own. */
export const isRadio = ({ facts }: Port): boolean => facts.connector === 'radio';

const accessVlanOf = ({ config: { role } }: Port): number =>
  role?.kind === 'switched' && role.mode === 'access' ? (role.accessVlan ?? 1) : 1;

/** The VLAN into which a bridge puts what comes over a wireless link: that of the network which both ends are set to. */
export function radioVlan({ a, b }: Link, { id }: Instance, instances: ReadonlyMap<string, Instance>): number {
  const at = (end: LinkEnd) => {
    const instance = instances.get(instanceId(end))!;
    return { instance, port: instance.ports.get(end.port)! };
  };
  const [mine, other] = instanceId(a) === id ? [at(a), at(b)] : [at(b), at(a)];
  return sharedNetwork(mine, other)?.vlan ?? accessVlanOf(mine.port);
}

const networkVlans = ({ settings }: Instance): number[] => (settings.ssids ?? []).flatMap(({ vlan }) => vlan ?? []);

/**
 * What a port of a bridge passes, apart from radios. An access point whose port was not set otherwise tags what comes from
 * its wireless networks with their VLANs, and passes all else untagged.
 */
export function passes(instance: Instance, port: Port, vlans: readonly number[]): Pass[] {
  const { role } = port.config;
  if (isTransparent(instance, port))
    return [
      [0, 1, 'both'],
      ...[...new Set(networkVlans(instance))].flatMap((vlan): Pass[] => (vlan === 1 ? [] : [[vlan, vlan, 'both']])),
    ];
  if (role?.kind !== 'switched' || role.mode === 'access') {
    const voice = role?.kind === 'switched' ? role.voiceVlan : undefined;
    return [[0, accessVlanOf(port), 'both'], ...(voice ? [[voice, voice, 'both'] as const] : [])];
  }
  const native = role.native ?? 1;
  const allowed = role.allowed === undefined || role.allowed === 'all' ? vlans : role.allowed;
  return allowed.flatMap((vlan): Pass[] =>
    vlan === native
      ? [
          [0, vlan, 'both'],
          [vlan, vlan, 'in'],
        ]
      : [[vlan, vlan, 'both']],
  );
}

/** Whether a port only hands on what is untagged, so that the number its device has for that means nothing outside. */
export const isTransparent = ({ model }: Instance, { config }: Port): boolean =>
  model.kind === 'access-point' && config.role === undefined;

/** Whether a bridge has a VLAN: all where they need not be created, and those of its own wireless networks. */
export const exists = (bridge: Instance, vlan: number, policy: VlanPolicy): boolean =>
  policy === 'implicit' ||
  vlan === 1 ||
  entryOf(bridge.settings.vlans, String(vlan)) !== undefined ||
  networkVlans(bridge).includes(vlan);

/** Every VLAN number that occurs anywhere: a trunk that allows all carries these. */
export function vlansInPlay(instances: ReadonlyMap<string, Instance>): number[] {
  const found = new Set([1]);
  for (const instance of instances.values()) {
    if (instance.model.bridges === 'vlan')
      for (const { config } of instance.ports.values()) {
        if (config.role?.kind !== 'switched') continue;
        const { accessVlan, voiceVlan, native, allowed } = config.role;
        for (const vlan of [accessVlan, voiceVlan, native, ...(Array.isArray(allowed) ? allowed : [])])
          if (vlan !== undefined) found.add(vlan);
      }
    for (const [, { on }] of instance.interfaces) if (on.kind === 'sub' || on.kind === 'svi') found.add(on.vlan);
    for (const vlan of Object.keys(instance.settings.vlans ?? {})) found.add(Number(vlan));
    for (const vlan of networkVlans(instance)) found.add(vlan);
  }
  return [...found].sort((a, b) => a - b);
}
