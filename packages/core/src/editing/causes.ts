import { formatAddress, parseInterfaceAddress } from '../address';
import { type NetworkModel, type Reason, type ReasonCode, AnalysisSession, problemsOf } from '../engine';
import { type Command, type Interface } from '../topology';
import { changePort } from './change';
import { repairOf } from './repairs';

/** Problems that others may follow from. What is unlikely to be meant, and what nobody gets by, is told beside them. */
const ROOTS: ReadonlySet<ReasonCode> = new Set([
  'PORT_TAKEN_TWICE',
  'PORT_OFF',
  'NO_POWER',
  'CABLE_BROKEN',
  'CONNECTOR_MISMATCH',
  'FIBRE_MISMATCH',
  'WRONG_PAIRING',
  'NO_COMMON_SPEED',
  'NO_NEGOTIATION',
  'CABLE_TOO_LONG',
  'NO_CLOCK',
  'TWO_CLOCKS',
  'CONSOLE_CABLE',
  'PORT_SECURITY',
  'ADDRESS_UNREADABLE',
  'DUPLICATE_ADDRESS',
  'VLAN_NOT_CREATED',
  'BUNDLE_NOT_FORMED',
  'FORWARDING_OFF',
]);
/** What follows at the same device from what cannot be mended for certain: nobody knows which address was meant. */
const SAME_PLACE: Partial<Record<ReasonCode, readonly ReasonCode[]>> = {
  ADDRESS_NOT_USABLE: ['PREFIX_DIFFERS'],
  GATEWAY_OUTSIDE: ['ADDRESS_UNREADABLE', 'PREFIX_DIFFERS'],
  NO_GATEWAY: ['ADDRESS_UNREADABLE'],
};
/** So many are tried, fewer the larger a drawing is: each is an analysis, and whoever draws waits for no more than some. */
const [MOST_TRIED, LEAST_TRIED, DEVICES_TRIED] = [12, 3, 1200];

/**
 * Which problems only follow from another one: they would be gone if that one were mended. By their texts; who is in it
 * follows from the problem whose text stands there.
 */
export function causesOf(
  model: NetworkModel,
  problems: readonly Reason[] = problemsOf(model),
): Readonly<Record<string, string>> {
  const causes = new Map<string, string>();
  for (const problem of problems) {
    const from = SAME_PLACE[problem.code];
    const cause = from && problems.find(({ code, at }) => from.includes(code) && at.device === problem.at.device);
    if (cause) causes.set(problem.text, cause.text);
  }
  const most = Math.max(LEAST_TRIED, Math.min(MOST_TRIED, Math.floor(DEVICES_TRIED / model.instances.size)));
  let tried = 0;
  for (const root of problems) {
    if (!ROOTS.has(root.code) || causes.has(root.text) || causes.size === problems.length - 1) continue;
    if (++tried > most) break;
    for (const commands of mendsOf(model, root)) {
      const session = AnalysisSession.from(model);
      if (!commands.every((command) => session.apply(command).ok)) continue;
      const left = new Set(problemsOf(session.model).map(({ text }) => text));
      // What stays although it should be mended was not understood.
      if (left.has(root.text)) continue;
      for (const { text } of problems)
        if (text !== root.text && !left.has(text) && !causes.has(text)) causes.set(text, root.text);
    }
  }
  return Object.fromEntries(causes);
}

/** Ways in which a problem would be no more: the certain repair, or what one only supposes. */
function mendsOf(model: NetworkModel, problem: Reason): Command[][] {
  const { code, at } = problem;
  const { topology, options, layer1 } = model;
  const repair = repairOf(topology, problem, { options });
  if (code === 'DUPLICATE_ADDRESS') return withoutDuplicate(model, problem);
  if (repair) return [[...repair.commands]];
  const channel = at.link === undefined ? undefined : layer1.channelOf.get(at.link);
  switch (code) {
    case 'NO_POWER':
      return at.device === undefined || at.device.includes('/')
        ? []
        : [[{ kind: 'setDevice', id: at.device, set: { powered: true } }]];
    case 'CABLE_TOO_LONG':
      return channel ? [channel.links.map((id): Command => ({ kind: 'setLink', id, set: { lengthM: null } }))] : [];
    case 'NO_COMMON_SPEED':
      return channel
        ? [
            [channel.a, channel.b].flatMap((end) =>
              end.member === undefined ? changePort(end.device, end.port, { speed: undefined, duplex: undefined }) : [],
            ),
          ]
        : [];
    case 'PORT_SECURITY':
      return at.device !== undefined && at.port !== undefined && !at.device.includes('/')
        ? [[changePort(at.device, at.port, { security: undefined })]]
        : [];
    default:
      return [];
  }
}

/** Each of those that have an address without it: whoever has it by mistake, the others are right. */
function withoutDuplicate({ layer3, topology }: NetworkModel, { at }: Reason): Command[][] {
  const here = layer3.nodes.get(at.device ?? '')?.interfaceStates.find(({ key }) => key === at.port);
  return (here?.addresses ?? []).flatMap(({ address }) => {
    const text = formatAddress(address);
    const isIt = (typed: string): boolean => {
      const read = parseInterfaceAddress(typed);
      return read.ok && formatAddress(read.value.address) === text;
    };
    return Object.entries(topology.devices).flatMap(([device, { interfaces = {} }]) =>
      Object.entries(interfaces).flatMap(([key, { v4, v6 }]): Command[][] => {
        const set = { ...without(v4, 'v4', isIt), ...without(v6, 'v6', isIt) };
        return Object.keys(set).length ? [[{ kind: 'changeInterface', device, key, set }]] : [];
      }),
    );
  });
}

function without<K extends 'v4' | 'v6'>(
  family: Interface[K],
  key: K,
  isIt: (typed: string) => boolean,
): Partial<Record<K, Interface[K] | null>> {
  const addresses = family?.addresses ?? [];
  const left = addresses.filter((typed) => !isIt(typed));
  if (left.length === addresses.length) return {};
  const { addresses: _all, ...others } = family!;
  const next = { ...others, ...(left.length && { addresses: left }) };
  return { [key]: Object.keys(next).length ? next : null } as Partial<Record<K, Interface[K] | null>>;
}
