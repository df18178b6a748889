import { MEDIUM_TAGS, linkVlans, toneOfVlan, vlansOf } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { speedWords } from '../ui/speed-words';
import { type LinkFact } from '../workers/facts';

/** What a drawing shows on top of itself. */
export interface Lenses {
  ends: boolean;
  subnets: boolean;
  /** Names and addresses of devices; shown unless they are switched off. */
  names?: boolean;
  /** The medium, cable identifiers and speeds in the middle of links. */
  cables: boolean;
  ids?: boolean;
  speeds?: boolean;
  /** VLANs, or broadcast domains, as bands with badges along links. */
  vlans?: boolean;
  domains?: boolean;
  /** Who the device that is chosen reaches. */
  reach?: boolean;
  /** The page on which it would be printed, with its title block. */
  page?: boolean;
  /** A field of devices and links, by its key. */
  field?: string | null;
}

/** A band along a link with its badge. */
export interface Band {
  label: string;
  tone: number;
}

/** The bands of each link under the lenses; null where no lens shows any. */
export function bandsOf(
  topology: Topology,
  facts: Readonly<Record<string, LinkFact>> | null,
  lenses: Pick<Lenses, 'vlans' | 'domains'>,
): ReadonlyMap<string, readonly Band[]> | null {
  if (lenses.vlans) {
    const known = vlansOf(topology);
    return new Map(
      [...linkVlans(topology)].map(([id, vlans]) => [
        id,
        vlans.map((vlan) => ({ label: String(vlan), tone: toneOfVlan(known, vlan) })),
      ]),
    );
  }
  if (!lenses.domains || !facts) return null;
  return new Map(
    Object.entries(facts).map(([id, { domains }]) => [
      id,
      domains.map((domain) => ({ label: domainName(domain), tone: (domain % 8) + 1 })),
    ]),
  );
}

/** A, B, … Z, AA, AB, … */
export function domainName(index: number): string {
  const last = String.fromCharCode(65 + (index % 26));
  return index < 26 ? last : domainName(Math.floor(index / 26) - 1) + last;
}

/** What is written in the middle of a link: its word, and what lenses show: medium, identifier, speed, a field. */
export function middleOf(topology: Topology, id: string, fact: LinkFact | null, lenses: Lenses): string {
  const link = topology.links[id];
  if (!link) return '';
  return [
    link.label?.trim() ?? '',
    lenses.cables ? MEDIUM_TAGS[link.medium] : '',
    lenses.ids ? (link.cableId ?? '') : '',
    lenses.speeds && fact?.speedMbps ? speedWords(fact.speedMbps) : '',
    lenses.field ? String(link.fields?.[lenses.field] ?? '') : '',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** The keys of all fields that devices and links of a drawing have. */
export const fieldKeys = ({ devices, links }: Topology): string[] =>
  [
    ...new Set(
      [...Object.values(devices), ...Object.values(links)].flatMap((element) => Object.keys(element.fields ?? {})),
    ),
  ].sort();
