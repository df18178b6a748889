import { plural } from '../plural';
import { lengthForHosts, sizeWords, usableCount } from '../address';
import { KIT, type Model } from '../topology';
import { type Block, type Brief, type Group, ratiosOf, schemesOf } from './schema';

/** One number and the words that explain it. */
export interface Explained {
  value: number;
  words: string;
}

/** What one subnet must hold: a group of the brief, or the phones of a site in their voice VLAN. */
export interface SubnetNeed {
  /** Of a group its id; of the phones of a site "voice:" and the site. */
  key: string;
  group: Group | null;
  name: string;
  site: string | undefined;
  now: Explained;
  later: Explained;
  /** The longest IPv4 prefix with room for the later number. */
  length: number;
  usable: number;
  /** Usable addresses left at the later number. */
  room: number;
  ports: { now: number; later: number; words: string };
  accessPoints: { now: number; later: number };
}

/** The purpose by which the subnet of a site's phones is known. */
export const VOICE = 'phones';

/** Whether a block is planned for what a group needs, or for the phones of a site. */
export const isFor = ({ group, purpose, site }: Block, need: SubnetNeed): boolean =>
  need.group
    ? group === need.group.id
    : group === undefined && purpose?.trim().toLowerCase() === VOICE && (site ?? '') === (need.site ?? '');

const needs = (group: Group, need: string): boolean => group.needs?.includes(need) ?? false;

/** The subnets that follow from a brief: one for each group, and one for the phones of each site that has any. */
export function subnetNeeds(brief: Brief): SubnetNeed[] {
  const groups = brief.groups ?? [];
  return [...groups.map((group) => groupNeed(group, brief)), ...voiceNeeds(groups, brief)];
}

function groupNeed(group: Group, brief: Brief): SubnetNeed {
  const { perAccessPoint } = ratiosOf(brief);
  const isWireless = needs(group, 'wireless');
  const accessPoints = (n: number): number => (isWireless ? Math.ceil(n / perAccessPoint) : 0);
  const server = needs(group, 'own server') ? 1 : 0;
  const ports = (n: number): number => (isWireless ? accessPoints(n) : n) + server;
  const { management } = schemesOf(brief);
  const switches = (n: number): number =>
    management ? switchesFor(ports(n)).switches.reduce((sum, { count }) => sum + count, 0) : 0;
  const addresses = (n: number, when: string): Explained =>
    withGateway(n, `${n} ${when}`, brief, [
      ...(server ? [[1, 'server of its own', 'servers of its own'] as const] : []),
      ...(accessPoints(n) ? [[accessPoints(n), 'access point', 'access points'] as const] : []),
      ...(switches(n) ? [[switches(n), 'switch', 'switches'] as const] : []),
    ]);
  return {
    key: group.id,
    group,
    name: group.name,
    site: group.site,
    ...sized(addresses(group.now, 'now'), addresses(Math.max(group.now, group.later), 'later')),
    ports: {
      now: ports(group.now),
      later: ports(Math.max(group.now, group.later)),
      words: isWireless
        ? 'one for each access point'
        : needs(group, 'phones')
          ? 'one for each desk, the phone passes it on'
          : 'one for each host',
    },
    accessPoints: { now: accessPoints(group.now), later: accessPoints(Math.max(group.now, group.later)) },
  };
}

function withGateway(
  hosts: number,
  hostWords: string,
  brief: Brief,
  more: readonly (readonly [n: number, one: string, several: string])[],
): Explained {
  const { infrastructure, gateways } = schemesOf(brief);
  const parts: (readonly [number, string, string])[] = [
    ...more,
    [gateways, 'gateway', 'for the gateway'],
    ...(infrastructure ? [[infrastructure, 'for equipment', 'for equipment'] as const] : []),
  ];
  const value = parts.reduce((sum, [n]) => sum + n, hosts);
  return {
    value,
    words: `${[hostWords, ...parts.map(([n, part, several]) => plural(n, part, several))].join(' + ')} = ${value} addresses`,
  };
}

function sized(now: Explained, later: Explained): Pick<SubnetNeed, 'now' | 'later' | 'length' | 'usable' | 'room'> {
  const length = Math.min(30, lengthForHosts(4, BigInt(later.value)) ?? 0);
  const usable = Number(usableCount({ family: 4, value: 0n, length }));
  return {
    now,
    later: { value: later.value, words: `${later.words}: ${sizeWords(later.value).words}` },
    length,
    usable,
    room: usable - later.value,
  };
}

/** A group that is itself the phones, by its name. */
const arePhones = ({ name }: Group): boolean => /^((ip|voip|desk)[- ]?)?(tele)?phones?$|^voice$/i.test(name.trim());

/**
 * A phone for everybody of the groups that have phones; they stand in a VLAN of their own at each site. Where a group of
 * the site is itself the phones, its own number counts, and it is that subnet.
 */
function voiceNeeds(groups: readonly Group[], brief: Brief): SubnetNeed[] {
  const bySite = new Map<string | undefined, { now: number; later: number }>();
  const counted = new Set(groups.filter(arePhones).map(({ site }) => site));
  for (const group of groups.filter((each) => needs(each, 'phones') && !counted.has(each.site))) {
    const sum = bySite.get(group.site) ?? { now: 0, later: 0 };
    bySite.set(group.site, { now: sum.now + group.now, later: sum.later + Math.max(group.now, group.later) });
  }
  return [...bySite].map(([site, { now, later }]) => ({
    key: `voice:${site ?? ''}`,
    group: null,
    name: 'Phones',
    site,
    ...sized(
      withGateway(now, plural(now, 'phone') + ' now', brief, []),
      withGateway(later, plural(later, 'phone') + ' later', brief, []),
    ),
    ports: { now: 0, later: 0, words: 'none: phones pass the port of their desk on' },
    accessPoints: { now: 0, later: 0 },
  }));
}

/** Access switches that together have enough ports: as few as possible, and of those as small as possible. */
export interface SwitchChoice {
  switches: { model: string; name: string; count: number }[];
  ports: number;
  left: number;
}

const accessPortsOf = (model: Model): number =>
  model.ports.filter((port) => port.switched && port.poe === 'source').length;

/** The access switches of a kit by their number of access ports, the smallest first. */
function accessSwitches(kit: Readonly<Record<string, Model>>): { model: string; name: string; ports: number }[] {
  return Object.entries(kit)
    .filter(([, model]) => model.kind === 'switch' && accessPortsOf(model) > 0)
    .map(([model, facts]) => ({ model, name: facts.name, ports: accessPortsOf(facts) }))
    .sort((a, b) => a.ports - b.ports || (a.model < b.model ? -1 : 1));
}

export function switchesFor(ports: number, kit: Readonly<Record<string, Model>> = KIT): SwitchChoice {
  const sizes = accessSwitches(kit);
  const largest = sizes.at(-1);
  if (!largest || ports === 0) return { switches: [], ports: 0, left: 0 };
  const count = Math.ceil(ports / largest.ports);
  // With one switch fewer it would not do; what the full ones leave decides how small the last one may be.
  const rest = ports - (count - 1) * largest.ports;
  const last = sizes.find((siz) => siz.ports >= rest)!;
  const chosen = [...(count > 1 ? [{ ...largest, count: count - 1 }] : []), { ...last, count: 1 }];
  const merged = chosen.length === 2 && last.model === largest.model ? [{ ...largest, count }] : chosen;
  const total = merged.reduce((sum, model) => sum + model.ports * model.count, 0);
  return {
    switches: merged.map(({ model, name, count: n }) => ({ model, name, count: n })),
    ports: total,
    left: total - ports,
  };
}

/** What follows for one site, or for everything. */
export interface SiteNeeds {
  site: string | undefined;
  subnets: SubnetNeed[];
  addresses: { now: number; later: number };
  ports: { now: number; later: number };
  switchesNow: SwitchChoice;
  switchesLater: SwitchChoice;
  vlans: Explained;
  accessPoints: { now: number; later: number; words: string };
  uplink: Explained & { link: string };
}

const LINKS = [
  [100, '100 Mb/s'],
  [1000, '1 Gb/s'],
  [10_000, '10 Gb/s'],
  [100_000, '100 Gb/s'],
] as const;

/** What follows from a brief, site by site in the order of the brief; groups without a site come last, as a site of their own. */
export function siteNeeds(brief: Brief, kit: Readonly<Record<string, Model>> = KIT): SiteNeeds[] {
  const all = subnetNeeds(brief);
  const named = (brief.sites ?? []).map((site) => site.name);
  const sites = [...new Set([...named, ...all.map((need) => need.site)])].filter((site) =>
    all.some((need) => need.site === site),
  );
  return sites
    .sort((a, b) => Number(a === undefined) - Number(b === undefined))
    .map((site) =>
      needsOf(
        site,
        all.filter((need) => need.site === site),
        brief,
        kit,
      ),
    );
}

function needsOf(
  site: string | undefined,
  subnets: SubnetNeed[],
  brief: Brief,
  kit: Readonly<Record<string, Model>>,
): SiteNeeds {
  const sum = (value: (subnetNeed: SubnetNeed) => number): number =>
    subnets.reduce((total, subnet) => total + value(subnet), 0);
  const ports = { now: sum((need) => need.ports.now), later: sum((need) => need.ports.later) };
  const { perAccessPoint, oversubscription, hostMbps } = ratiosOf(brief);
  const voice = subnets.filter((subnet) => !subnet.group).length;
  const mbps = Math.ceil((ports.later * hostMbps) / oversubscription);
  return {
    site,
    subnets,
    addresses: { now: sum((need) => need.now.value), later: sum((need) => need.later.value) },
    ports,
    switchesNow: switchesFor(ports.now, kit),
    switchesLater: switchesFor(ports.later, kit),
    vlans: {
      value: subnets.length,
      words: `${plural(subnets.length - voice, 'group')}${voice ? ' and one for the phones' : ''}, a VLAN each`,
    },
    accessPoints: {
      now: sum((need) => need.accessPoints.now),
      later: sum((need) => need.accessPoints.later),
      words: `one for every ${perAccessPoint} people`,
    },
    uplink: {
      value: mbps,
      words: `${plural(ports.later, 'port')} × ${hostMbps} Mb/s ÷ ${oversubscription} = ${mbps} Mb/s`,
      link: LINKS.find(([most]) => mbps <= most)?.[1] ?? 'several of 100 Gb/s',
    },
  };
}

/** The same for all sites together. */
export function totalNeeds(sites: readonly SiteNeeds[]): {
  addresses: number;
  ports: number;
  switches: number;
  vlans: number;
  accessPoints: number;
} {
  const sum = (value: (siteNeeds: SiteNeeds) => number): number =>
    sites.reduce((total, site) => total + value(site), 0);
  return {
    addresses: sum((needs) => needs.addresses.later),
    ports: sum((needs) => needs.ports.later),
    switches: sum((needs) => needs.switchesLater.switches.reduce((total, each) => total + each.count, 0)),
    vlans: sum((needs) => needs.vlans.value),
    accessPoints: sum((needs) => needs.accessPoints.later),
  };
}

/** What a separation says, as a sentence. */
export function separationWords(separation: { who?: string; from?: string; text?: string }, brief: Brief): string {
  const name = (id: string | undefined): string => brief.groups?.find((group) => group.id === id)?.name ?? 'somebody';
  if (separation.who === undefined) return separation.text ?? '';
  const from =
    separation.from === '@outside'
      ? 'reach nothing outside'
      : separation.from === '@others'
        ? 'reach no other group'
        : separation.from === undefined || separation.from === '@inside'
          ? 'reach nothing inside'
          : `do not reach ${name(separation.from)}`;
  return `${name(separation.who)} ${from}${separation.text ? ` (${separation.text})` : ''}.`;
}

/** What the placeholders of a naming scheme stand for, as its readers need it. */
const PLACEHOLDERS: Readonly<Record<string, readonly [sign: string, meaning: string]>> = {
  kind: ['‹kind›', 'the sign of the kind of device, such as RT, SW or PC'],
  site: ['‹site›', 'the first letter of the site'],
  group: ['‹group›', 'the first word of the group'],
  n: ['‹n›', 'a number from 1'],
  nn: ['‹nn›', 'a number from 01'],
};

/** A naming scheme as people read it: with what its placeholders stand for, and a name made by it where it is a pattern alone. */
export function schemeWords(scheme: string): string {
  const used = [...new Set([...scheme.matchAll(/\{(\w+)\}/g)].map(([, key]) => key!))].filter(
    (key) => PLACEHOLDERS[key],
  );
  if (!used.length) return scheme;
  const text = scheme.replace(/\{(\w+)\}/g, (whole, key: string) => PLACEHOLDERS[key]?.[0] ?? whole);
  const meanings = used.map((key) => `${PLACEHOLDERS[key]![0]} is ${PLACEHOLDERS[key]![1]}`).join(', ');
  const example = nameByScheme(scheme, { kind: 'RT', site: 'Valley', group: 'desks', n: 1 });
  return `${text}${/\s/.test(scheme.trim()) ? '' : `, such as ${example}`} (${meanings})`;
}

/**
 * A name by a scheme such as "{kind}-{site}{n}": {kind} a two-letter kind, {site} the first letter of the site, {group}
 * the first word of a group, {n} a number, {nn} one of two digits. Text without braces stays as it is.
 */
export function nameByScheme(scheme: string, values: { kind: string; site: string; group: string; n: number }): string {
  const first = (text: string): string => text.trim().charAt(0).toUpperCase();
  const words: Record<string, string> = {
    kind: values.kind,
    site: first(values.site),
    group: values.group.trim().split(/\s+/)[0]!.toUpperCase(),
    n: String(values.n),
    nn: String(values.n).padStart(2, '0'),
  };
  return scheme.replace(/\{(\w+)\}/g, (whole, key: string) => words[key] ?? whole);
}
