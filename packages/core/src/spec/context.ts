import {
  type Address,
  type InterfaceAddress,
  type Prefix,
  contains,
  formatInterfaceAddress,
  formatPrefix,
  isLinkLocal,
  parseInterfaceAddress,
  sameAddress,
  subnetOf,
} from '../address';
import { type Instance, type NetworkModel, analyse, localNetworksOf, realmsOf } from '../engine';
import { type Brief, type Plan, planProblems, planTree, subnetNeeds } from '../plan';
import { type Topology, entryOf } from '../topology';
import { EACH, positive } from './combining';
import { type Corresponding, type Kept, READ_NOTHING } from './corresponding';
import { refsIn } from './evaluate';
import { type JudgingLab } from './judging';
import { type CheckContext, EACH_WORDS, NETWORKS, NETWORKS_WORDS, type Names, REF_WORDS } from './rule';
import { ALL_GROUPS, ANY_SITE } from './rules';
import { aKindOf, kindWord } from './rules/kind-words';
import { type LabFile, type Spec } from './schema';
import { type Selection, selected } from './selection';
import { Telling } from './telling';

/** Of devices without an interface. */
const NO_REALM = -1;

const isNetwork = (instance: Instance): boolean => instance.model.class !== 'end';

/** The roles a ref stands for: a group of the spec, a device of the reference with its members, or all of a sort. */
function rolesOf(spec: Spec, reference: NetworkModel, ref: string, asking: readonly string[] = []): string[] {
  const all = [...reference.instances.values()];
  if (ref === '@all') return all.map((instance) => instance.id);
  if (ref === '@hosts') return all.filter((instance) => !isNetwork(instance)).map((instance) => instance.id);
  if (ref === '@network') return all.filter(isNetwork).map((instance) => instance.id);
  const group = entryOf(spec.groups, ref);
  if (group?.select) {
    const at = (other: string): Instance[] =>
      // What stands behind itself chooses nothing.
      asking.includes(other)
        ? []
        : rolesOf(spec, reference, other, [...asking, ref]).flatMap((role) => reference.instances.get(role) ?? []);
    return selected(group.select, reference, { plan: null, starter: null, at }).map(({ id }) => id);
  }
  if (group) return [...new Set(group.roles.flatMap((role) => instancesAt(all, role)))];
  return instancesAt(all, ref);
}
/** How many devices of a reference a group stands for; none of one that chooses in each drawing. */
export const chosenIn = (spec: Spec, reference: Topology, ref: string): number =>
  rolesOf(spec, analyse(reference), ref).length;

/** What of a drawing itself a ref chooses, where the reference has nothing of it. */
function selectionOf(spec: Spec, reference: NetworkModel, ref: string): Selection | undefined {
  if (!reference.instances.size && Object.hasOwn(REF_WORDS, ref))
    return { least: 1, ...(ref === '@hosts' && { sort: 'hosts' }), ...(ref === '@network' && { sort: 'network' }) };
  return entryOf(spec.groups, ref)?.select;
}
const instancesAt = (all: readonly Instance[], id: string): string[] =>
  all.filter((instance) => instance.id === id || instance.deviceId === id).map((instance) => instance.id);

/** Words for the refs, sites and groups of a lab. */
export function namesOf({
  spec,
  reference,
  brief,
  tasks = [],
}: Pick<LabFile, 'spec' | 'reference' | 'brief'> & { readonly tasks?: readonly { id: string }[] }): Names {
  return {
    ref: (ref) =>
      REF_WORDS[ref] ??
      (ref === EACH ? EACH_WORDS : undefined) ??
      (ref === NETWORKS ? NETWORKS_WORDS : undefined) ??
      entryOf(spec.groups, ref)?.title ??
      entryOf(reference.devices, ref)?.name ??
      ref,
    site: (id) => (id === ANY_SITE ? 'anywhere' : (entryOf(reference.sites, id)?.name ?? id)),
    task: (id) => {
      const at = tasks.findIndex((task) => task.id === id);
      return at < 0 ? 'a task that is gone' : `task ${at + 1}`;
    },
    secret: (full) => full,
    group: (id) => (id === ALL_GROUPS ? 'every group' : (brief.groups?.find((group) => group.id === id)?.name ?? id)),
  };
}

/** What is handed in beside the drawing: a plan, and what was written under the tasks, by their ids. */
export interface Handed {
  readonly plan: Plan;
  readonly answers?: Readonly<Record<string, string>>;
}

/** What the items of a check are made from, and the telling that reads their texts. */
export function contextOf(
  { spec, brief, policy, tasks, starter: starterDrawing }: JudgingLab,
  reference: NetworkModel,
  student: NetworkModel,
  playing: Corresponding,
  { plan, answers = {} }: Handed,
  /** The devices of the starter, where the lab has one. */
  starter?: ReadonlySet<string>,
): { context: CheckContext; telling: Telling; theirWording: (text: string) => string } {
  const chosen = new Map<string, Kept<readonly string[]>>();
  const opening = new Set<string>();
  const addresses = new Map<string, Readonly<Record<4 | 6, readonly InterfaceAddress[]>>>();
  const names = namesOf({ spec, reference: reference.topology, brief, ...(tasks && { tasks }) });
  /** Roles that the reference does not have, with the student's devices that a selection chose for them, in its order. */
  const own = new Map<string, { device: Instance | null; ref: string }>();
  const rolesAt = (ref: string): readonly string[] => {
    if (opening.has(ref)) return []; // what stands behind itself chooses nothing
    opening.add(ref);
    const roles = playing.once(chosen, ref, () => (ref === NETWORKS ? networks() : rolesFor(ref)));
    opening.delete(ref);
    return roles;
  };
  const rolesFor = (ref: string): readonly string[] => {
    const found = rolesOf(spec, reference, ref);
    const selection = found.length ? undefined : selectionOf(spec, reference, ref);
    if (!selection) return found;
    const at = (other: string): Instance[] => rolesAt(other).flatMap((role) => deviceAt(role) ?? []);
    const devices = selected(selection, student, { plan, starter: starter ?? new Set(), at });
    return Array.from({ length: Math.max(devices.length, selection.least) }, (_, nth) => {
      const role = `~${ref}~${nth}`;
      own.set(role, { device: devices[nth] ?? null, ref });
      return role;
    });
  };
  /** The local networks of the reference, else of the drawing: each a ref that stands for its hosts. */
  const networks = (): string[] => {
    const isDrawn = reference.instances.size === 0;
    const roleOf = new Map(isDrawn ? rolesAt('@hosts').map((role) => [own.get(role)?.device?.id, role]) : []);
    return localNetworksOf(isDrawn ? student : reference).map((hosts, at) => {
      const ref = `~network~${at}`;
      const value = hosts.flatMap((host) => (isDrawn ? (roleOf.get(host) ?? []) : host));
      chosen.set(ref, { value, read: READ_NOTHING });
      return ref;
    });
  };
  /** The roles of devices that the spec speaks of without the reference having them: the first of those that it names. */
  const ownRoles = new Map<'all', Kept<ReadonlyMap<string, string>>>();
  const ownRoleOf = (device: string): string | null =>
    playing
      .once(ownRoles, 'all', () => {
        const found = [...refsSpokenOf(spec)].flatMap((ref) =>
          rolesAt(ref).flatMap((role) => {
            const id = own.get(role)?.device?.id;
            return id === undefined ? [] : [[id, role] as const];
          }),
        );
        return new Map(found.reverse());
      })
      .get(device) ?? null;
  const networkName = (ref: string, nameOf: (role: string) => string): string => {
    const [first, ...rest] = rolesAt(ref);
    return `the local network of ${nameOf(first ?? '')}${rest.length ? ` and ${rest.length} more` : ''}`;
  };
  const deviceAt = (role: string): Instance | null =>
    own.get(role)?.device ?? student.instances.get(playing.device(role) ?? '') ?? null;
  const ofRoles = new Map<string, readonly InterfaceAddress[]>();
  const referenceAddresses = (role: string): readonly InterfaceAddress[] => {
    let found = ofRoles.get(role);
    if (!found) {
      const instance = reference.instances.get(role);
      ofRoles.set(role, (found = instance ? planned(reference, instance) : []));
    }
    return found;
  };
  /** Whom the spec asks to reach whom in a family, as it says it. */
  const reaching = new Map<4 | 6, Kept<readonly (readonly [from: ReadonlySet<string>, to: ReadonlySet<string>])[]>>();
  const reaches = (family: 4 | 6) =>
    playing.once(reaching, family, () =>
      reachesIn(spec)
        .filter((rule) => rule.family === undefined || rule.family === String(family))
        .map(({ from, to }) => [new Set(rolesAt(from)), new Set(rolesAt(to))] as const),
    );
  const beyond = new Map<string, Kept<readonly (readonly [string, string])[]>>();
  const askedBeyond = (role: string, family: 4 | 6): readonly (readonly [string, string])[] =>
    playing.once(beyond, `${family} ${role}`, () => {
      const isBeyond = (source: string, target: string): boolean =>
        source !== target &&
        !referenceAddresses(source).some((on) =>
          referenceAddresses(target).some(({ address }) => contains(subnetOf(on), address)),
        );
      const [to, from] = [new Set<string>(), new Set<string>()];
      for (const [sources, targets] of reaches(family)) {
        if (sources.has(role)) for (const target of targets) to.add(target);
        if (targets.has(role)) for (const source of sources) from.add(source);
      }
      return [
        ...[...to].filter((target) => isBeyond(role, target)).map((target) => [role, target] as const),
        ...[...from].filter((source) => isBeyond(source, role)).map((source) => [source, role] as const),
      ];
    });
  const telling = new Telling();
  const realms = realmsOf(student);
  const theirs = studentNames(spec, reference, student, playing, rolesAt);
  const context: CheckContext = {
    ...names,
    ref: (ref) =>
      ref.startsWith('~network~')
        ? telling.mark(
            networkName(ref, (role) => deviceAt(role)?.name ?? reference.instances.get(role)?.name ?? role),
            networkName(ref, (role) => deviceAt(role)?.name ?? theirs.role(role)),
          )
        : telling.mark(names.ref(ref), theirs.ref(ref)),
    mark: (full, theirs, value) => telling.mark(full, theirs, value),
    secret: (full, theirs) => telling.mark(full, theirs),
    answers,
    brief,
    kit: policy.kit,
    starter: starterDrawing,
    plan: readOnce(plan, brief),
    reference,
    student,
    roles: rolesAt,
    roleName: (role) => {
      const extra = own.get(role);
      if (extra) return `one more of ${names.ref(extra.ref)}`;
      return telling.mark(reference.instances.get(role)?.name ?? role, theirs.role(role));
    },
    device: deviceAt,
    devices: (role) =>
      own.has(role)
        ? [own.get(role)!.device].filter((device) => device !== null)
        : playing.devices(role).flatMap((id) => student.instances.get(id) ?? []),
    roleOf: (instance) => playing.role(instance) ?? ownRoleOf(instance),
    isOwn: (role) => own.has(role),
    siteOf: (id) => playing.site(id),
    addresses: (instance, family) => {
      let found = addresses.get(instance.id);
      if (!found) {
        const all = planned(student, instance);
        const of = (family: 4 | 6): InterfaceAddress[] => all.filter((on) => on.address.family === family);
        addresses.set(instance.id, (found = { 4: of(4), 6: of(6) }));
      }
      return found[family];
    },
    referenceSubnet: (ref, family) => {
      const count = new Map<string, { subnet: Prefix; n: number }>();
      for (const role of rolesAt(ref))
        for (const on of referenceAddresses(role)) {
          if (on.address.family !== family) continue;
          const subnet = subnetOf(on);
          const known = count.get(formatPrefix(subnet));
          count.set(formatPrefix(subnet), { subnet, n: (known?.n ?? 0) + 1 });
        }
      return [...count.values()].sort((one, other) => other.n - one.n)[0]?.subnet ?? null;
    },
    realmOf: (instance, address) => {
      const states = student.layer3.nodes.get(instance.id)?.interfaceStates ?? [];
      const state = states.find((each) => each.addresses.some((on) => sameAddress(on.address, address))) ?? states[0];
      return state ? realms(state, address.family) : NO_REALM;
    },
    familiesOf: (role) => {
      const own = referenceAddresses(role);
      return ([4, 6] as const).filter((family) => own.some((on) => on.address.family === family));
    },
    askedBeyond,
  };
  return { context, telling, theirWording: theirs.wording };
}

/**
 * Words for what a student may not read by its name in the reference: the device of their own that plays its part, else
 * its kind and site.
 */
function studentNames(
  spec: Spec,
  reference: NetworkModel,
  student: NetworkModel,
  playing: Corresponding,
  rolesAt: (ref: string) => readonly string[],
) {
  const place = ({ device: { site } }: Instance): string => {
    const name = site === undefined ? undefined : reference.topology.sites[site]?.name;
    return name === undefined ? '' : ` at ${name}`;
  };
  const role = (id: string): string => {
    const own = student.instances.get(playing.device(id) ?? '');
    if (own) return own.name;
    const wanted = reference.instances.get(id);
    return wanted ? `${aKindOf(wanted.model.kind)}${place(wanted)}` : id;
  };
  const device = (id: string): string => {
    const roles = rolesAt(id);
    if (roles.length < 2) return role(roles[0] ?? id);
    const own = roles.map((each) => student.instances.get(playing.device(each) ?? ''));
    const [first] = own;
    if (first && own.every((each) => each?.deviceId === first.deviceId)) return first.device.name;
    const wanted = reference.instances.get(roles[0]!)!;
    return `${roles.length} ${kindWord(wanted.model.kind, roles.length)}${place(wanted)}`;
  };
  const named = new Map(Object.entries(reference.topology.devices).map(([id, { name }]) => [name, id]));
  const pattern = [...named.keys()]
    .filter((name) => name.trim())
    .sort((a, b) => b.length - a.length)
    .map((name) => name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const any = new RegExp(`(?<![\\p{L}\\p{N}])(${pattern.join('|')})(?![\\p{L}\\p{N}])`, 'gu');
  /** What somebody wrote, with the names that it has of the reference replaced. */
  const wording = (text: string): string =>
    pattern.length ? text.replace(any, (name) => device(named.get(name)!)) : text;
  return {
    role,
    wording,
    ref: (ref: string): string => {
      const fixed = ref === NETWORKS ? NETWORKS_WORDS : REF_WORDS[ref];
      if (fixed !== undefined) return fixed;
      const group = entryOf(spec.groups, ref);
      return group ? wording(group.title) : device(ref);
    },
  };
}

/** All that the rules of a spec speak of, in their order, each once. */
const refsSpokenOf = ({ sections }: Spec): ReadonlySet<string> =>
  new Set(sections.flatMap(({ requirements }) => requirements.flatMap(({ rule }) => refsIn(rule))));

/** What a spec asks to be reached, outside of what it turns round. */
function reachesIn(spec: Spec): { from: string; to: string; family?: unknown }[] {
  const rules = spec.sections.flatMap((section) => section.requirements.map(({ rule }) => rule));
  return rules.flatMap(positive).flatMap((rule) => {
    const { from, to, who, family } = rule as Readonly<Record<string, unknown>>;
    if (rule.kind === 'reach') return [{ from: String(from), to: String(to), family }];
    return rule.kind === 'within' ? [{ from: String(who), to: String(who), family }] : [];
  });
}

const readOnce = (plan: Plan, brief: Brief): CheckContext['plan'] => {
  const tree = planTree(plan);
  return { tree, problems: planProblems(plan, brief, tree), needs: subnetNeeds(brief) };
};

/** The addresses of a device that are part of an address plan: no loopback, and none of one link alone. */
const planned = (model: NetworkModel, instance: Instance): InterfaceAddress[] =>
  [...readAddresses(instance), ...givenAddresses(model, instance)].filter(({ address }) => !isOfOneLink(address));

/** RFC 4291 §2.5.6; RFC 3927 §2.1: 169.254/16. */
const isOfOneLink = (address: Address): boolean =>
  isLinkLocal(address) || (address.family === 4 && address.value >> 16n === 0xa9fen);

const readAddresses = (instance: Instance): InterfaceAddress[] =>
  instance.interfaces.flatMap(([, interfaceConfig]) =>
    [...(interfaceConfig.v4?.addresses ?? []), ...(interfaceConfig.v6?.addresses ?? [])].flatMap((text) => {
      const read = parseInterfaceAddress(text);
      return read.ok ? [read.value] : [];
    }),
  );

/** Addresses that nobody typed: leases, and what hosts made of advertisements. */
function givenAddresses({ layer3 }: NetworkModel, instance: Instance): InterfaceAddress[] {
  const typed = new Set(readAddresses(instance).map(formatInterfaceAddress));
  return (layer3.nodes.get(instance.id)?.interfaceStates ?? []).flatMap((attachment) =>
    attachment.up ? attachment.addresses.filter((on) => !typed.has(formatInterfaceAddress(on))) : [],
  );
}
