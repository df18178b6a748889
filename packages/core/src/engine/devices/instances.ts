import {
  type Device,
  type Interface,
  type Model,
  type PortConfig,
  type PortFacts,
  type Settings,
  type Topology,
  canonicalJson,
  entriesById,
  isSwitched,
  modelOf,
  entryOf,
  portsOf,
} from '../../topology';
import { OUTSIDE, isProvider, outsideOf } from './provider-cloud';

/** One port of one device with what the model and the configuration say of it. */
export interface Port {
  readonly key: string;
  readonly facts: PortFacts;
  readonly config: PortConfig;
  readonly switched: boolean;
}

/** One real device: a device of the drawing, or one member of a tile of like hosts. */
export interface Instance {
  readonly id: string;
  readonly deviceId: string;
  readonly member: string | null;
  readonly name: string;
  readonly device: Device;
  readonly model: Model;
  readonly ports: ReadonlyMap<string, Port>;
  readonly interfaces: readonly (readonly [string, Interface])[];
  readonly settings: Settings;
}

interface DeviceOrMember {
  readonly device: string;
  readonly member?: string | undefined;
}
/** The id of the instance of a device or of one member of its tile, for instance of what a link's end is plugged into. */
export const instanceId = ({ device, member }: DeviceOrMember): string =>
  member === undefined ? device : `${device}/${member}`;

/** The device that an instance is of, and the member of its tile where it has several. */
export function splitInstanceId(id: string): { device: string; member?: string } {
  const [device, member] = id.split('/') as [string, string?];
  return member === undefined ? { device } : { device, member };
}

/** A drawing with the devices that were made of it. */
export interface Made {
  readonly topology: Topology;
  readonly instances: ReadonlyMap<string, Instance>;
}

/**
 * All real devices of a drawing, sorted by id, so that the order in the file never matters.
 *
 * @param before what was made of the drawing before an edit: devices that are the same values are taken from there
 */
export function instancesOf(topology: Topology, before?: Made): ReadonlyMap<string, Instance> {
  const all = new Map<string, Instance>();
  const same = before?.topology.models === topology.models ? before : undefined;
  if (same?.topology.devices === topology.devices) return same.instances;
  for (const [deviceId, device] of entriesById(topology.devices)) {
    const model = modelOf(topology, device);
    if (!model) continue;
    const outside = isProvider(model) && device.settings?.dnsRecords ? outsideOf(topology, device) : null;
    if (
      same &&
      same.topology.devices[deviceId] === device &&
      (!isProvider(model) || sameOutside(same.instances.get(deviceId), outside))
    ) {
      const ids = device.members ? entriesById(device.members).map(([member]) => `${deviceId}/${member}`) : [deviceId];
      for (const id of ids) all.set(id, same.instances.get(id)!);
      continue;
    }
    const facts = portsOf(topology, device);
    const make = (
      member: string | null,
      name: string,
      over?: { ports?: Device['ports']; interfaces?: Device['interfaces'] },
    ): void => {
      const id = member === null ? deviceId : `${deviceId}/${member}`;
      const ports = new Map(
        facts.map((fact) => [
          fact.key,
          {
            key: fact.key,
            facts: fact,
            switched: isSwitched(topology, device, fact),
            config: { ...entryOf(device.ports, fact.key), ...entryOf(over?.ports, fact.key) },
          },
        ]),
      );
      all.set(id, {
        id,
        deviceId,
        member,
        name,
        device,
        model,
        ports,
        interfaces: entriesById({ ...device.interfaces, ...over?.interfaces, ...(outside && { [OUTSIDE]: outside }) }),
        settings: device.settings ?? {},
      });
    };
    if (!device.members) make(null, device.name);
    else
      for (const [at, [member, over]] of entriesById(device.members).entries())
        make(member, over.name ?? `${device.name}-${at + 1}`, over);
  }
  return all;
}

/** Whether a cloud stood for the same addresses; others stand for none. */
const sameOutside = (old: Instance | undefined, outside: Interface | null): boolean =>
  canonicalJson(old?.interfaces.find(([key]) => key === OUTSIDE)?.[1] ?? null) === canonicalJson(outside);

/** Whether a device passes packets on between its interfaces. */
export function forwards(instance: Instance, family: 4 | 6): boolean {
  const set = family === 4 ? instance.settings.forwarding?.v4 : instance.settings.forwarding?.v6;
  return set ?? instance.model.forwards ?? false;
}
