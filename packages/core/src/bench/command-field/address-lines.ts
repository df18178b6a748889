import { formatInterfaceAddress, parseInterfaceAddress } from '../../address';
import { plural } from '../../plural';
import { byName } from '../../collation';
import { addressedPort, type AddressSource, giveAddresses, subnetsLike } from '../../editing';
import { type Topology, modelOf } from '../../topology';
import { type Completion, type FieldContext, why } from './completion';
import { devicesLike, matching, nameOf, takeDevice, takePort } from './typed-names';

/** "address PC-* 10.84.1.11/26", "address RT-1 g1 10.84.1.1/26", "address PC-1 tickets", and for what is chosen "address 10.84.1.11/26". */
export function addresses(text: string, context: FieldContext): Completion[] {
  const { topology } = context;
  const { devices, port, rest } = whose(text, context);
  if (!devices.length) {
    const like = devicesLike(text, topology).slice(0, 5);
    if (!text.trim() || !like.length)
      return [why('Say whose address', 'a name, a pattern such as PC-*, or choose devices first')];
    return like.map((id): Completion => ({
      id: `address ${id}`,
      sign: 'address',
      text: `address ${nameOf(topology, id)}`,
      more: 'then an address with its prefix, or a subnet of the plan',
      fill: `address ${nameOf(topology, id)} `,
      action: { do: 'fill' },
    }));
  }
  const wanted = rest.trim();
  const read = parseInterfaceAddress(wanted);
  if (read.ok) {
    const from = formatInterfaceAddress(read.value);
    return [line({ devices, port }, { kind: 'from', first: read.value }, from, context)];
  }
  const subnets = context.plan ? subnetsLike(context.plan, wanted) : [];
  if (subnets.length)
    return subnets
      .slice(0, 6)
      .map((node) => line({ devices, port }, { kind: 'plan', plan: context.plan!, node }, node.block.name, context));
  if (!wanted) return [why('Say from which address on', 'for instance 10.84.1.11/26')];
  return [/^[\d.:]/.test(wanted) || !context.plan ? why(read.error.text) : why(`The plan has no subnet “${wanted}”`)];
}

interface Whose {
  devices: readonly string[];
  port?: string | undefined;
}
/** Whose addresses are meant: a pattern, a name at the beginning, else what is chosen. */
function whose(text: string, { topology, chosen }: FieldContext): Whose & { rest: string } {
  const [, pattern, after] = /^(\S*\*\S*)\s*(.*)$/s.exec(text.trim()) ?? [];
  const inOrder = (ids: readonly string[]): string[] =>
    [...ids].sort((a, b) => byName(nameOf(topology, a), nameOf(topology, b)));
  if (pattern !== undefined) return { devices: inOrder(matching(pattern, topology)), rest: after! };
  const { device, rest } = takeDevice(text, topology);
  return device === null
    ? { devices: inOrder(chosen), rest: text }
    : { devices: [device], ...takePort(rest, device, topology) };
}

function line({ devices, port }: Whose, source: AddressSource, from: string, { topology }: FieldContext): Completion {
  const { given, left, addresses } = giveAddresses(topology, devices, source, port);
  const [only] = devices.length === 1 ? devices : [];
  const at =
    only === undefined ? undefined : (port ?? (isRouter(topology, only) ? addressedPort(topology, only) : undefined));
  const words = [only === undefined ? '' : nameOf(topology, only), at].filter(Boolean).join(' ');
  const whom = words || plural(devices.length, 'device');
  if (!given) return why(`There is no address for ${whom}`, 'the subnet is full, or no port of it carries one');
  return {
    id: `address ${from}`,
    sign: 'address',
    text: `address ${whom} from ${from}`,
    more: [
      devices.length === 1 ? addresses[0] : `${addresses[0]} and on`,
      ...(left.length ? [`${plural(left.length, 'device')} without`] : []),
    ].join(', '),
    fill: `address ${words}${words && ' '}${from}`,
    action: { do: 'address', devices, source, ...(port !== undefined && { port }) },
  };
}

const isRouter = (topology: Topology, id: string): boolean =>
  modelOf(topology, topology.devices[id]!)?.forwards === true;
