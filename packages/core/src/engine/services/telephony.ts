import { type Address, formatAddress, parseAddress, sameAddress } from '../../address';
import { type Instance } from '../devices';
import { listensAt } from './listening';
import { type NetworkModel } from '../analysis';
import { type Answer, type Probe, trace } from '../forwarding';

/** How far a telephone came with its call server. */
export interface Registration {
  readonly answer: Answer;
  /** The device that takes its calls; null where it got to none. */
  readonly server: string | null;
  /** As a sentence: where it is registered, or what keeps it from it. */
  readonly text: string;
}
/** What comes of calling an extension. */
export interface Call {
  readonly answer: Answer;
  /** The device that rings; null where none does. */
  readonly device: string | null;
  readonly text: string;
}

/** Signalling (RFC 3261 19.1.2), and what is said, which goes from telephone to telephone (RFC 3551 8). */
const SIGNALLING: Probe = { protocol: 'udp', port: 5060 };
const SPEECH: Probe = { protocol: 'udp', port: 5004 };

/** Whether a device makes calls: a telephone, or any other with an extension. */
export const isTelephone = ({ model, settings }: Instance): boolean =>
  model.kind === 'phone' || settings.telephony?.extension !== undefined;

/** Whether a telephone has power, an extension, and a call server that it reaches and that takes calls. */
export function registrationOf(model: NetworkModel, id: string): Registration {
  const { name, settings } = model.instances.get(id)!;
  const no = (text: string, answer: Answer = 'no'): Registration => ({ answer, server: null, text });
  const dark = model.layer1.unpowered.get(id);
  if (dark) return no(dark.text);
  const { extension, callServer } = settings.telephony ?? {};
  if (!extension) return no(`${name} has no extension.`);
  if (callServer === undefined) return no(`${name} has no call server.`);
  const read = parseAddress(callServer);
  if (!read.ok) return no(`The call server of ${name}: ${read.error.text}`);
  const address = formatAddress(read.value);
  const server = deviceAt(model, read.value);
  if (server === null) return no(`Nobody in the drawing has ${address}, where ${name} looks for its call server.`);
  const there = model.instances.get(server)!.name;
  const found = trace(model, id, server, read.value, SIGNALLING);
  if (found.answer !== 'yes')
    return no(`${name} does not get to its call server ${address}. ${found.reason?.text ?? ''}`.trim(), found.answer);
  if (!listensAt(model, server, 5060)) return no(`${there} takes no calls: that service does not run there.`);
  const twin = [...model.instances.values()].find(
    (instance) =>
      instance.id !== id && instance.settings.telephony?.extension === extension && asksAt(instance, read.value),
  );
  if (twin)
    return no(
      `${name} and ${twin.name} both have extension ${extension}: which one rings is not certain.`,
      'uncertain',
    );
  return { answer: 'yes', server, text: `${name} is registered at ${there} as ${extension}.` };
}

/** Calls an extension: both must be registered at one server, and hear one another. */
export function callOf(model: NetworkModel, from: string, extension: string): Call {
  const mine = registrationOf(model, from);
  const no = (text: string, answer: Answer = 'no', device: string | null = null): Call => ({ answer, device, text });
  if (mine.answer !== 'yes') return no(mine.text, mine.answer);
  const called = [...model.instances.values()].find((instance) => instance.settings.telephony?.extension === extension);
  if (!called) return no(`Nobody has extension ${extension}.`);
  const theirs = registrationOf(model, called.id);
  if (theirs.answer !== 'yes') return no(theirs.text, theirs.answer);
  const server = (id: string): string => model.instances.get(id)!.name;
  if (theirs.server !== mine.server)
    return no(
      `${called.name} is registered at ${server(theirs.server!)}, not at ${server(mine.server!)}: calls between servers are not computed.`,
      'uncertain',
    );
  const address = model.layer3.nodes
    .get(called.id)!
    .interfaceStates.flatMap((interfaceState) => (interfaceState.up ? interfaceState.addresses : []))[0];
  const speech = trace(model, from, called.id, address!.address, SPEECH);
  if (speech.answer !== 'yes')
    return no(
      `${called.name} rings, but what is said does not get through. ${speech.reason?.text ?? ''}`.trim(),
      speech.answer,
      called.id,
    );
  return { answer: 'yes', device: called.id, text: `${called.name} rings at ${extension}, and both hear one another.` };
}

const asksAt = ({ settings }: Instance, server: Address): boolean => {
  const read = parseAddress(settings.telephony?.callServer ?? '');
  return read.ok && sameAddress(read.value, server);
};

const deviceAt = ({ reach }: NetworkModel, address: Address): string | null =>
  reach.targets().find((target) => sameAddress(target.address, address))?.device ?? null;
