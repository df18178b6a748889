import { isPrivate, parsePrefix } from '../address';
import { type Instance, type NetworkModel, instancesOf } from '../engine';
import { type Device, type Settings, type Topology, canonicalJson } from '../topology';
import { type RoleMatch } from './matching/match';
import { type Place } from './rule';

/** Something of a drawing that counted otherwise than it is drawn, as a sentence. */
export interface Remark {
  text: string;
  places: Place[];
}

type Drawn = Pick<NetworkModel, 'topology' | 'instances'>;

/** What of a device outside decides where its packets go: it is the lab's, not the student's. */
const OF_THE_LAB = [
  'routes',
  'ospf',
  'ospf6',
  'rip',
  'nat',
  'filters',
  'forwarding',
] as const satisfies (keyof Settings)[];

/**
 * A drawing with the outside as the lab has it: what belongs to a provider, or is a cloud, sends packets as in the
 * reference, and has no route to private addresses (RFC 1918, RFC 2827, RFC 4193) that the reference does not give it. In:
 * models of both, and who plays which role. Out: the drawing itself where nothing is different, and what was told apart.
 */
export function withOutside(
  reference: Drawn,
  student: Drawn,
  matching: readonly RoleMatch[],
): { topology: Topology; remarks: Remark[] } {
  const { topology } = student;
  const roleOf = new Map(matching.flatMap(({ role, device }) => (device === null ? [] : [[device, role] as const])));
  const devices: Record<string, Device> = {};
  const remarks: Remark[] = [];
  for (const instance of student.instances.values()) {
    if (!isOutside(student, instance)) continue;
    const wanted = reference.instances.get(roleOf.get(instance.id) ?? '');
    const settings =
      wanted && isOutside(reference, wanted)
        ? asInLab(instance.settings, wanted.settings)
        : withoutPrivate(instance.settings);
    if (canonicalJson(settings) === canonicalJson(instance.settings)) continue;
    devices[instance.deviceId] = { ...topology.devices[instance.deviceId]!, settings };
    remarks.push({
      text: `${instance.name} stands outside, which belongs to the lab: it is judged with the lab's routes and filters, not with those drawn.`,
      places: [{ device: instance.deviceId }],
    });
  }
  return remarks.length
    ? { topology: { ...topology, devices: { ...topology.devices, ...devices } }, remarks }
    : { topology, remarks };
}

/** A drawing as it was judged: packets in it go as they went then. */
export function asJudged(reference: Topology, drawing: Topology, matching: readonly RoleMatch[]): Topology {
  const drawn = (topology: Topology): Drawn => ({ topology, instances: instancesOf(topology) });
  return withOutside(drawn(reference), drawn(drawing), matching).topology;
}

/** Whether a device is the provider's or a cloud. */
export const isOutside = ({ topology }: Pick<NetworkModel, 'topology'>, { device, model }: Instance): boolean =>
  model.class === 'cloud' || (device.site !== undefined && topology.sites[device.site]?.kind === 'provider');

function asInLab(own: Settings, lab: Settings): Settings {
  const kept = Object.fromEntries(
    Object.entries(own).filter(([key]) => !(OF_THE_LAB as readonly string[]).includes(key)),
  );
  return {
    ...kept,
    ...Object.fromEntries(OF_THE_LAB.flatMap((key) => (lab[key] === undefined ? [] : [[key, lab[key]]]))),
  };
}

/** What nobody of the lab stands for, but is drawn outside: it cannot know the way to what is inside. */
function withoutPrivate(settings: Settings): Settings {
  const { routes, ...rest } = settings;
  const left = routes?.filter(({ prefix }) => {
    const read = parsePrefix(prefix);
    return !read.ok || (read.value.length > 0 && !isPrivate(read.value));
  });
  return { ...rest, ...(left?.length && { routes: left }) };
}
