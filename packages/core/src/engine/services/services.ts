import { type Address, formatAddress, parseAddress, sameAddress } from '../../address';
import { type Link } from '../../topology';
import { type Instance, instanceId } from '../devices';
import { toldNames } from '../leases';
import { listensAt } from './listening';
import { type NetworkModel } from '../analysis';
import { relayed } from '../convergence';
import { type Answer, type Probe, type Trace, trace } from '../forwarding';

/** What came of asking for a name. */
export interface NameAnswer {
  readonly address: Address | null;
  /** The exchange with the last server that was asked; null where nobody was. */
  readonly exchange: { readonly server: Address; readonly trace: Trace } | null;
  /** As a sentence: which server told it, or why nobody did. */
  readonly text: string;
}
/** What came of signing in. */
export interface SignIn {
  readonly answer: Answer;
  readonly text: string;
}

const NAMES = { protocol: 'udp', port: 53 } as const;
/** Names that stand for others are followed so far (RFC 1034 3.6.2 warns of circles). */
const MOST_ALIASES = 8;

/** Asks the servers of a device for the address of a name, one after the other (RFC 1034 5.3.1). */
export function resolveName(model: NetworkModel, from: string, name: string): NameAnswer {
  const asking = model.instances.get(from);
  const servers = serversOf(model, from);
  const nothing = { address: null, exchange: null };
  if (!asking || !servers.length) return { ...nothing, text: `${asking?.name ?? from} knows no server for names.` };
  let last: NameAnswer = { ...nothing, text: '' };
  for (const server of servers) {
    const { device, found } = askedAt(model, from, server, NAMES);
    const leased = formatAddress(server);
    const exchange = found && { server, trace: found };
    if (!device)
      last = { ...nothing, text: `Nobody in the drawing has ${leased}, where ${asking.name} asks for names.` };
    else if (found!.answer !== 'yes')
      last = {
        address: null,
        exchange,
        text: `${asking.name} gets no answer from ${leased}. ${found!.reason?.text ?? ''}`.trim(),
      };
    else if (!listensAt(model, device, NAMES.port))
      last = { address: null, exchange, text: `At ${leased} no service for names runs.` };
    else {
      const types = asking.interfaces.some(([, config]) => config.v6) ? ['A', 'AAAA'] : ['A'];
      const address = recordIn(model, device, name, types);
      const by = model.instances.get(device)!.name;
      // A server that knows the name of nobody has answered: the next one is not asked.
      const text = address ? `${name} is ${formatAddress(address)}, by ${by}.` : `${by} knows no ${name}.`;
      return { address, exchange, text };
    }
  }
  return last;
}

/** Those that are set, then those that came with a lease or were asked for alone. */
function serversOf(model: NetworkModel, from: string): Address[] {
  const { instances, layer2, layer3 } = model;
  const leased = [...layer3.leases.values()]
    .filter((lease) => lease.client.device === from)
    .flatMap((lease) => lease.dns);
  const set = (instances.get(from)?.settings.dns ?? []).flatMap((text) => {
    const read = parseAddress(text);
    return read.ok ? [read.value] : [];
  });
  const asked = (layer3.nodes.get(from)?.interfaceStates ?? []).flatMap((interfaceState) =>
    toldNames(interfaceState, layer2, layer3, relayed(model)),
  );
  return [...set, ...leased, ...asked];
}

function askedAt(
  model: NetworkModel,
  from: string,
  address: Address,
  probe: Probe,
): { device: string | null; found: Trace | null } {
  const device = model.reach.targets().find((target) => sameAddress(target.address, address))?.device ?? null;
  return { device, found: device === null ? null : trace(model, from, device, address, probe) };
}

function recordIn({ instances }: NetworkModel, server: string, name: string, types: readonly string[]): Address | null {
  const records = instances.get(server)?.settings.dnsRecords ?? [];
  const plain = (text: string): string => text.trim().toLowerCase().replace(/\.$/, '');
  let wanted = plain(name);
  for (let turn = 0; turn <= MOST_ALIASES; turn++) {
    const named = records.filter((record) => plain(record.name) === wanted);
    const record = named.find((record) => types.includes(record.type));
    const read = record && parseAddress(record.value);
    if (read?.ok) return read.value;
    const alias = named.find((record) => record.type === 'CNAME');
    if (!alias) return null;
    wanted = plain(alias.value);
  }
  return null;
}

const PORTS = { ssh: 22, telnet: 23 } as const;
/** How one signs in over the network. */
export type NetworkSignIn = keyof typeof PORTS;
/** How one signs in: over the network, or over a cable at the console. */
export const SIGN_IN_WAYS = ['ssh', 'telnet', 'console'] as const;
export interface SignInRequest {
  readonly from: string;
  readonly to: string;
  /** At which address of it; null for any that it has, and over a console. */
  readonly address: Address | null;
  readonly by: (typeof SIGN_IN_WAYS)[number];
  /** Whether one also wants to change settings there. */
  readonly changing?: boolean;
}

/** Whether somebody at a device can sign in at another one, and change its settings. */
export function signIn(model: NetworkModel, { from, to, address, by, changing = false }: SignInRequest): SignIn {
  const there = model.instances.get(to)!;
  const found = by === 'console' ? atConsole(model, from, to) : overNetwork(model, from, to, address, by);
  return found.answer === 'yes' && changing ? andChange(there, by, found.text) : found;
}

/** Whether a device lets somebody sign in who reaches it over the network, and change its settings. */
export function letsIn(there: Instance, by: NetworkSignIn, changing: boolean): SignIn {
  const { name, settings } = there;
  const { management = {} } = settings;
  if (!management[by]) return { answer: 'no', text: `${name} does not take ${by}.` };
  // Over the network nobody is let in without a password, whatever the console does.
  const users = (management.users ?? []).filter((user) => user.password);
  if (!users.length)
    return { answer: 'no', text: `${name} takes ${by}, but has no user with a password to sign in as.` };
  const text = `${users.map((user) => user.name).join(' and ')} can sign in at ${name} by ${by}.`;
  return changing ? andChange(there, by, text) : { answer: 'yes', text };
}

/** What is asked of the network to sign in: the first segment to the port where the device listens for it. */
export const signInProbe = (by: NetworkSignIn): Probe => ({ protocol: 'tcp', port: PORTS[by] });

/** Whether whoever has signed in may change settings; `text` says that one can. */
function andChange({ name, settings }: Instance, by: SignInRequest['by'], text: string): SignIn {
  const { management = {} } = settings;
  const masters = (management.users ?? []).filter((user) => user.password && (user.level ?? 0) === 15);
  if ((management.privileged ?? 'none') !== 'none')
    return { answer: 'yes', text: `${text} With the password for changing settings one may change them.` };
  if (by === 'console')
    return { answer: 'yes', text: `${text} It has no password for changing settings: whoever is there may.` };
  // Over the network a missing password lets nobody change anything.
  return masters.length
    ? { answer: 'yes', text: `${text} ${masters.map((user) => user.name).join(' and ')} may change settings.` }
    : {
        answer: 'no',
        text: `${text} Nobody may change settings over the network: ${name} has no password for that.`,
      };
}

function overNetwork(
  model: NetworkModel,
  from: string,
  to: string,
  address: Address | null,
  by: NetworkSignIn,
): SignIn {
  const there = model.instances.get(to)!;
  const { name } = there;
  if (!there.settings.management?.[by]) return letsIn(there, by, false);
  const addresses = address
    ? [address]
    : model.reach.targets().flatMap((target) => (target.device === to ? target.address : []));
  let last: SignIn = { answer: 'no', text: `${name} has no address at which it could be reached.` };
  for (const at of addresses) {
    const found = trace(model, from, to, at, signInProbe(by));
    if (found.answer === 'yes') return letsIn(there, by, false);
    last = { answer: found.answer, text: found.reason?.text ?? `${name} is not reached.` };
  }
  return last;
}

/** At a console one sits beside the device: what counts is the cable, and what the console asks for. */
function atConsole({ topology, instances, layer1 }: NetworkModel, from: string, to: string): SignIn {
  const [{ name: who }, { name, settings, ports }] = [instances.get(from)!, instances.get(to)!];
  const isCable = ({ a, b, medium, broken }: Link): boolean =>
    medium === 'rollover' &&
    !broken &&
    [[a, b] as const, [b, a] as const].some(
      ([near, far]) =>
        instanceId(near) === from && instanceId(far) === to && ports.get(far.port)?.facts.connector === 'console',
    );
  if (!Object.values(topology.links).some(isCable))
    return { answer: 'no', text: `No console cable goes from ${who} to the console of ${name}.` };
  for (const [id, device] of [
    [from, who],
    [to, name],
  ] as const)
    if (layer1.unpowered.has(id)) return { answer: 'no', text: `${device} has no power.` };
  const { console: way = 'open', users = [] } = settings.management ?? {};
  const able = users.filter((user) => user.password).map((user) => user.name);
  if (way === 'open') return { answer: 'yes', text: `The console of ${name} lets in whoever is there.` };
  if (way === 'password') return { answer: 'yes', text: `The console of ${name} lets in whoever knows its password.` };
  return able.length
    ? { answer: 'yes', text: `${able.join(' and ')} can sign in at the console of ${name}.` }
    : { answer: 'no', text: `The console of ${name} wants a user, and it has none with a password.` };
}
