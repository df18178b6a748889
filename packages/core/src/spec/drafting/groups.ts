import { contains, formatPrefix, parsePrefix, samePrefix, subnetOf, type Prefix } from '../../address';
import { type Instance, type NetworkModel } from '../../engine';
import { type Topology, entryOf } from '../../topology';
import { type CheckContext } from '../rule';
import { type Spec } from '../schema';
import { type DraftedLab } from './planted';

/** A group of hosts that a draft speaks of, with what the brief says of it. */
export interface HostGroup {
  readonly ref: string;
  readonly roles: readonly string[];
  /** How many the brief counts later; null where it says nothing of it. */
  readonly later: number | null;
  readonly needs: readonly string[];
  /** Its name in the brief, or that of its subnet. */
  readonly name: string;
}

/** Refs for sets of devices: what can be said without a group is, a group of the spec is taken, else one is made. */
export class Groups {
  /** Those that are made, by id. */
  readonly made: Record<string, Spec['groups'][string]> = {};
  private readonly known: ReadonlyMap<string, string>;

  constructor(
    private readonly lab: DraftedLab,
    private readonly reference: NetworkModel,
    context: CheckContext,
    private readonly onMade: (id: string, group: Spec['groups'][string]) => void,
  ) {
    const known = new Map<string, string>();
    const kept = [...Object.keys(lab.spec.groups), '@network', '@hosts', '@all'];
    // Whichever stands last is said: a sentence of all hosts needs no group.
    for (const ref of kept) known.set(keyOf(context.roles(ref)), ref);
    this.known = known;
  }

  /** Null for nobody. */
  of(instances: readonly Instance[], title: string): string | null {
    const roles = instances.map(({ id }) => id);
    if (!roles.length) return null;
    const key = keyOf(roles);
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const [first] = instances;
    if (roles.length === 1 && first) return first.id;
    const made = Object.entries(this.made).find(([, group]) => keyOf(this.membersOf(group.roles)) === key);
    if (made) return made[0];
    let id =
      title
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, '')
        .slice(0, 40) || 'group';
    for (let nth = 2; this.isTaken(id); nth++) id = `${id.replace(/-\d+$/, '')}-${nth}`;
    const group = { title, roles: this.asDevices(roles) };
    this.made[id] = group;
    this.onMade(id, group);
    return id;
  }

  private isTaken(id: string): boolean {
    const { spec, reference } = this.lab;
    return (
      entryOf(spec.groups, id) !== undefined ||
      entryOf(this.made, id) !== undefined ||
      entryOf(reference.devices, id) !== undefined
    );
  }
  private membersOf(roles: readonly string[]): string[] {
    return roles.flatMap((role) =>
      [...this.reference.instances.values()]
        .filter(({ id, deviceId }) => id === role || deviceId === role)
        .map(({ id }) => id),
    );
  }
  /** A tile with all its members is one device. */
  private asDevices(roles: readonly string[]): string[] {
    const chosen = new Set(roles);
    return [
      ...new Set(
        roles.map((role) => {
          const { deviceId } = this.reference.instances.get(role)!;
          return this.membersOf([deviceId]).every((member) => chosen.has(member)) ? deviceId : role;
        }),
      ),
    ];
  }
}
const keyOf = (roles: readonly string[]): string => [...roles].sort().join(' ');

/** The groups of hosts that brief and plan speak of; without these, those that share a subnet in the reference. */
export function hostGroups(
  lab: DraftedLab,
  reference: NetworkModel,
  context: CheckContext,
  groups: Groups,
): HostGroup[] {
  const hosts = [...reference.instances.values()].filter(
    ({ model, device }) => model.class === 'end' && !isOutside(device.site, lab.reference),
  );
  const subnetsOf = (host: Instance): Prefix[] =>
    ([4, 6] as const).flatMap((family) => context.addresses(host, family).map(subnetOf));
  const blocks = Object.values(lab.plan.blocks);
  const planned = (lab.brief.groups ?? []).flatMap((group): HostGroup[] => {
    const own = blocks
      .filter((block) => block.group === group.id)
      .flatMap(({ prefix, prefix6 }) => prefixesOf(prefix, prefix6));
    const isIn = (host: Instance): boolean =>
      ([4, 6] as const).some((family) =>
        context
          .addresses(host, family)
          .some(({ address }) => own.some((block) => block.family === family && contains(block, address))),
      );
    const members = hosts.filter(isIn);
    const ref = groups.of(members, withArticle(group.name));
    return ref === null
      ? []
      : [{ ref, roles: members.map(({ id }) => id), later: group.later, needs: group.needs ?? [], name: group.name }];
  });
  const inPlan = new Set(planned.flatMap(({ roles }) => roles));
  const bySubnet = new Map<string, { subnet: Prefix; members: Instance[] }>();
  for (const host of hosts) {
    const [subnet] = subnetsOf(host);
    if (inPlan.has(host.id) || !subnet) continue;
    const key = formatPrefix(subnet);
    bySubnet.set(key, { subnet, members: [...(bySubnet.get(key)?.members ?? []), host] });
  }
  const rest = [...bySubnet.values()].flatMap(({ subnet, members }): HostGroup[] => {
    const name = blocks.find(({ prefix, prefix6 }) =>
      prefixesOf(prefix, prefix6).some((block) => samePrefix(block, subnet)),
    )?.name;
    const ref = groups.of(members, name === undefined ? `the hosts of ${formatPrefix(subnet)}` : withArticle(name));
    return ref === null
      ? []
      : [{ ref, roles: members.map(({ id }) => id), later: null, needs: [], name: name ?? formatPrefix(subnet) }];
  });
  return [...planned, ...rest];
}

export const isOutside = (site: string | undefined, { sites }: Topology): boolean =>
  site !== undefined && entryOf(sites, site)?.kind === 'provider';

export const prefixesOf = (...texts: readonly (string | undefined)[]): Prefix[] =>
  texts.flatMap((text) => {
    const read = text === undefined ? null : parsePrefix(text);
    return read?.ok ? [read.value] : [];
  });

/** A name as it stands within a sentence. */
const withArticle = (name: string): string => {
  const text = /^(the|all|every)\b/i.test(name) ? name : `the ${name}`;
  // An abbreviation or a name keeps its letters: "the VLAN of guests", but "the guests" of "Guests".
  return text.replace(
    /^(the|all|every) ([A-Z])(?=[a-z])/i,
    (_all, article: string, letter: string) => `${article.toLowerCase()} ${letter.toLowerCase()}`,
  );
};
