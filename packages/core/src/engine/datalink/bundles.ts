import { type LinkEnd, canonicalJson, entriesById } from '../../topology';
import { type Instance, instanceId, type Reason } from '../devices';
import { type Physical, portId } from '../physical';

/** A bundle both ends of which came together: its links pass frames as one (IEEE 802.1AX-2020 §6). */
export interface FormedBundle {
  /** The links (of several one after the other, the first) that carry frames, in the order of the member ports. The first stands for all. */
  readonly links: readonly string[];
  readonly speedMbps: number;
}

export interface Bundles {
  /** The formed bundle of an instance, by the key of the bundle in its settings; null where it did not form. */
  formed(instance: string, bundle: string): FormedBundle | null;
  /** The formed bundle that a channel carries frames for; null for those that stand alone. */
  ofLink(link: string): FormedBundle | null;
  /** Whether there is one that formed. */
  readonly any: boolean;
  /**
   * Links of bundles of which one end is static and the other negotiates, with a sentence. The static end sends by any of
   * them, the other one finds no partner: what comes of that is in no standard, so what crosses them is not certain.
   */
  readonly doubtful: ReadonlyMap<string, string>;
  /** Why bundles, or single links of them, do not come together. */
  readonly reasons: readonly Reason[];
}

interface Member {
  link: string;
  mine: LinkEnd;
  other: LinkEnd;
}
interface End {
  instance: Instance;
  key: string;
}

/**
 * A bundle forms when it leads to one bundle at the other end and one end begins (or both are static). A link whose
 * speed or VLANs differ from those of the first is left out. One that is static at one end only is worked out as if it
 * formed, and is doubtful. Ports of what did not form work singly, as 802.1AX has it.
 */
export function bundlesOf(instances: ReadonlyMap<string, Instance>, layer1: Physical): Bundles {
  const { links } = layer1;
  const ends = new Map<string, End>();
  for (const instance of instances.values())
    for (const [key, { members }] of entriesById(instance.settings.bundles))
      for (const port of members) {
        const id = portId(instance.id, port);
        if (!ends.has(id)) ends.set(id, { instance, key });
      }
  const endAt = (end: LinkEnd): End | undefined => ends.get(portId(instanceId(end), end.port));

  const formed = new Map<string, FormedBundle>();
  const byLink = new Map<string, FormedBundle>();
  const reasons: Reason[] = [];
  const doubtful = new Map<string, string>();
  for (const instance of instances.values())
    for (const [key, { members, protocol }] of entriesById(instance.settings.bundles)) {
      const all = members.flatMap((port) => membersAt(layer1, instance.id, port));
      const [first] = all;
      if (!first) continue;
      const theirs = instances.get(instanceId(first.other));
      const there = endAt(first.other);
      const tell = (text: string, link = first.link): void => {
        reasons.push({ code: 'BUNDLE_NOT_FORMED', text, at: { link } });
      };
      if (!there) {
        tell(
          `${instance.name} bundles ${members.join(', ')}, but ${first.other.port} of ${theirs?.name ?? ''} at the other end belongs to no bundle.`,
        );
        continue;
      }
      const sameEnd = (other: End | undefined): boolean =>
        other?.instance === there.instance && other.key === there.key;
      if (!all.every(({ other }) => sameEnd(endAt(other))))
        tell(
          `The bundle of ${instance.name} with ${members.join(', ')} leads to ports that are not one bundle at the other end.`,
        );
      // The rest concerns both ends alike and is told from one of them.
      if (instance.id > there.instance.id) continue;
      const protocolThere = there.instance.settings.bundles![there.key]!.protocol;
      const between = `The bundle between ${instance.name} and ${there.instance.name}`;
      if (protocol === 'passive' && protocolThere === 'passive') {
        tell(`${between} does not form: both ends are passive and wait for the other.`);
        continue;
      }
      const isMixed = (protocol === 'static') !== (protocolThere === 'static');
      const why = `${between} is static at one end and negotiates at the other: what passes over it is not certain.`;
      if (isMixed) tell(why);
      const up = all.filter(({ link, other }) => links.get(link)?.up && sameEnd(endAt(other)));
      const [lead] = up;
      if (!lead) continue;
      const inside = up.filter((member) => {
        const differs = differsFrom(lead, member, { instance, other: there.instance, links });
        if (differs) tell(`${instance.name} ${member.mine.port} is left out of its bundle: ${differs}.`, member.link);
        return !differs;
      });
      const bundle: FormedBundle = {
        links: inside.map(({ link }) => link),
        speedMbps: inside.reduce((sum, { link }) => sum + (links.get(link)!.speedMbps ?? 0), 0),
      };
      formed.set(portId(instance.id, key), bundle);
      formed.set(portId(there.instance.id, there.key), bundle);
      for (const { link } of inside) byLink.set(link, bundle);
      if (isMixed) for (const { link } of up) doubtful.set(link, why);
    }
  return {
    formed: (instance, bundle) => formed.get(portId(instance, bundle)) ?? null,
    ofLink: (link) => byLink.get(link) ?? null,
    any: formed.size > 0,
    doubtful,
    reasons,
  };
}

function membersAt({ atPort, channelOf }: Physical, instance: string, port: string): Member[] {
  return (atPort.get(portId(instance, port)) ?? []).map((link) => {
    const { id, a, b } = channelOf.get(link)!;
    const isFirst = instanceId(a) === instance && a.port === port;
    return isFirst ? { link: id, mine: a, other: b } : { link: id, mine: b, other: a };
  });
}

/** What keeps a link out of the bundle that another one leads; null where they go together. */
function differsFrom(
  lead: Member,
  member: Member,
  { instance, other, links }: { instance: Instance; other: Instance; links: Physical['links'] },
): string | null {
  const [speed, wanted] = [links.get(member.link)!.speedMbps, links.get(lead.link)!.speedMbps];
  if (speed !== wanted) return `it runs at ${speed} Mb/s, ${lead.mine.port} at ${wanted} Mb/s`;
  for (const [device, mine, first] of [
    [instance, member.mine, lead.mine],
    [other, member.other, lead.other],
  ] as const)
    if (roleText(device, mine.port) !== roleText(device, first.port))
      return `the VLANs of ${device.name} ${mine.port} are not those of ${first.port}`;
  return null;
}
const roleText = ({ ports }: Instance, port: string): string => canonicalJson(ports.get(port)?.config.role ?? null);
