import { formatAddress } from '../../address';
import { type Instance, type Port } from '../../engine';
import { type DeviceKind } from '../../topology';
import { type Rule } from '../combining';
import { type Candidate, type From, of } from './candidate';

/** More of a sort of sentence would not be read. */
const MOST_EACH = 6;

/** What people use a network for: names and pages, calls, wireless networks, and signing in to what carries it. */
export function uses(from: From): Candidate[] {
  return [...names(from), ...calls(from), ...wireless(from), ...signingIn(from)];
}

/** Each name that a server inside tells, with its page where one opens, to all hosts or to the groups that know it. */
function names({ inside, hosts, context, all, holds }: From): Candidate[] {
  const records = inside.flatMap(({ settings }) =>
    (settings.dnsRecords ?? []).filter(({ type }) => type === 'A' || type === 'AAAA' || type === 'CNAME'),
  );
  const pages = new Set(
    inside.flatMap((each) =>
      each.settings.services?.web?.enabled
        ? ([4, 6] as const).flatMap((family) => context.addresses(each, family).map((on) => formatAddress(on.address)))
        : [],
    ),
  );
  return [...new Set(records.map(({ name }) => name.trim()))].slice(0, MOST_EACH).flatMap((name) => {
    const isPage = records.some((record) => record.name.trim() === name && pages.has(record.value.trim()));
    const toldTo = (who: string): Rule => {
      const told = { kind: 'resolves', who, name };
      return (isPage && (['https', 'http'] as const).map((page) => ({ ...told, page })).find(holds)) || told;
    };
    const whole = toldTo('@hosts');
    return holds(whole) ? of(whole) : all(hosts.map(({ ref }) => toldTo(ref))).map((rule) => of(rule));
  });
}

const ofKind = ({ inside }: From, kind: DeviceKind): Instance[] => inside.filter(({ model }) => model.kind === kind);

function calls(from: From): Candidate[] {
  const phones = ofKind(from, 'phone');
  const ref = from.groups.of(phones, 'the telephones');
  if (ref === null) return [];
  const voice = new Set(
    from.inside.flatMap(({ ports }) =>
      [...ports.values()].flatMap(({ config: { role } }) =>
        role?.kind === 'switched' && role.voiceVlan !== undefined ? role.voiceVlan : [],
      ),
    ),
  );
  return [
    ...(phones.length > 1 ? [of({ kind: 'call', from: ref, to: ref })] : []),
    ...[...voice].sort((a, b) => a - b).map((vlan) => of({ kind: 'voiceVlan', who: ref, vlan })),
    of({ kind: 'fedByCable', who: ref }),
  ];
}

function wireless(from: From): Candidate[] {
  const points = from.inside.filter(({ settings }) => settings.ssids?.length);
  const networks = new Map(points.flatMap(({ settings }) => (settings.ssids ?? []).map((each) => [each.ssid, each])));
  const fed = from.groups.of(ofKind(from, 'access-point'), 'the access points');
  return [
    ...[...networks.values()].slice(0, MOST_EACH).flatMap(({ ssid, security, vlan }) => {
      const who = from.groups.of(
        points.filter(({ settings }) => settings.ssids?.some((each) => each.ssid === ssid)),
        `where ${ssid} is`,
      );
      const joined = from.groups.of(
        from.inside.filter(({ model, ports }) => model.class === 'end' && joins([...ports.values()], ssid)),
        `what joins ${ssid}`,
      );
      // One that nobody joins is no network yet.
      return who === null || joined === null
        ? []
        : of({ kind: 'wireless', who, security, ssid, ...(vlan !== undefined && vlan > 1 && { vlan }), joined });
    }),
    ...(fed === null ? [] : [of({ kind: 'fedByCable', who: fed })]),
  ];
}

const joins = (ports: readonly Port[], ssid: string): boolean =>
  ports.some(({ config: { radio } }) => radio?.ssid === ssid);

/** By ssh, from each group of hosts that can. */
const signingIn = ({ hosts, inside, groups }: From): Candidate[] => {
  const to = groups.of(
    inside.filter(({ settings: { management } }) => management?.users?.length),
    'what one signs in to',
  );
  return to === null ? [] : hosts.map(({ ref }) => of({ kind: 'signsIn', from: ref, to, by: 'ssh' }));
};
