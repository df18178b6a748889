import { Type } from '@sinclair/typebox';
import { contains, formatInterfaceAddress, isLinkLocal } from '../../../address';
import {
  type Instance,
  type NetworkModel,
  type Socket,
  PLUGGED_IN,
  attemptOf,
  globalAddressesOf,
  instanceId,
  plugIn,
  radioOf,
  socketsOf,
} from '../../../engine';
import { AddressText, Closed, Line, Maybe, OneOf } from '../../../topology';
import {
  type CheckContext,
  type Item,
  type Place,
  Ref,
  about,
  absent,
  defineRule,
  eachRole,
  familiesFor,
  lost,
  met,
  placeOf,
} from '../../rule';
import { blockOf, prefixProblem } from '../addressing/shared';
import { Family, familySlot } from '../family';
import { Vlan, vlanIfAny } from '../operation/switching';
import { isLike } from '../like';
import { Service, probeOf, serviceProblem, serviceSlot } from './asking';

/** Ports that are set up alike are tried once; of more sorts than these no more are tried. */
const MOST_SORTS = 16;
/** Devices of all the drawings together into which something is plugged. */
const MOST_TRIED = 20_000;

const DOES = {
  lease: 'is given an address',
  reach: 'reaches',
  apart: 'has an address and does not reach',
  refused: 'is let onto nothing',
} as const;

export const probeRule = defineRule({
  kind: 'probe',
  family: 'connectivity',
  title: 'Whoever is plugged in there',
  schema: Closed({
    kind: Type.Literal('probe'),
    at: Ref,
    port: Maybe(Line),
    vlan: Maybe(Vlan),
    radio: Maybe(Line),
    does: OneOf('lease', 'reach', 'apart', 'refused'),
    to: Maybe(Ref),
    block: Maybe(AddressText),
    family: Family,
    service: Service,
  }),
  slots: {
    at: { type: 'ref' },
    port: {
      type: 'text',
      title: 'At which ports',
      before: ' at ports like ',
      empty: 'a port, or a pattern as in “p#”; nothing for each that is free',
      problem: (text) => (text.length > 80 ? 'A port has at most 80 letters.' : null),
    },
    vlan: {
      ...vlanIfAny,
      title: 'In which VLAN',
      before: ' in VLAN ',
      empty: 'a VLAN, or nothing for any',
    },
    radio: {
      type: 'text',
      title: 'By radio',
      before: ' by the wireless network ',
      empty: 'the name of a wireless network, or nothing for a cable',
      problem: () => null,
    },
    does: { type: 'choice', options: Object.entries(DOES).map(([value, text]) => ({ value, text })) },
    to: { type: 'ref', title: 'Whom', before: ' ' },
    block: {
      type: 'text',
      title: 'Out of which block',
      before: ' in ',
      empty: 'a block, or nothing for any',
      problem: (text) => prefixProblem('block', text)[0]?.text ?? null,
    },
    family: { ...familySlot, quiet: ' over ', title: 'Which addresses' },
    service: serviceSlot,
  },
  fresh: { kind: 'probe', at: '@network', does: 'lease' },
  sentence: 'A laptop that is plugged into {at}{port}{vlan}{radio} {does}{to}{block}{family}{service}.',
  problems: (rule) => [
    ...serviceProblem(rule),
    ...(rule.block === undefined ? [] : prefixProblem('block', rule.block)),
    ...((rule.does === 'reach' || rule.does === 'apart') && rule.to === undefined
      ? [{ place: 'to', text: 'Say whom it reaches, or does not.' }]
      : []),
    ...(rule.radio !== undefined && (rule.port !== undefined || rule.vlan !== undefined)
      ? [{ place: 'radio', text: 'By radio there is no port and no VLAN to choose: the network has its own.' }]
      : []),
  ],
  evaluate: (rule, context) => {
    const targets = rule.to === undefined ? [] : context.roles(rule.to);
    const families =
      rule.does === 'lease' && rule.family === undefined ? [4 as const] : familiesFor(context, rule, targets);
    return eachRole(context, rule.at, (instance, role) => {
      const sockets =
        rule.radio === undefined ? socketsOf(context.student, instance, meant(rule)) : radioOf(instance, rule.radio);
      if (!sockets.length)
        return absent(
          rule.radio === undefined
            ? `${instance.name} has no such port to plug something into.`
            : `${instance.name} has no wireless network “${rule.radio}”.`,
          placeOf(instance),
        );
      const most = Math.min(MOST_SORTS, Math.floor(MOST_TRIED / context.student.instances.size));
      if (sockets.length > most)
        return {
          ...lost(
            `${instance.name} has ${sockets.length} sorts of ports: at most ${most} are tried.`,
            placeOf(instance),
          ),
          met: null,
          code: 'UNCERTAIN',
        };
      return sockets.flatMap((socket) =>
        families.flatMap((family) =>
          about({ ...tried(context, rule, targets, instance, socket, family), weight: socket.weight }, [role], family),
        ),
      );
    });
  },
});

/** The ports and the VLAN that a rule asks for. */
const meant = ({ port, vlan }: { readonly port?: string; readonly vlan?: number }) => ({
  ...(port !== undefined && { isMeant: (key: string) => isLike(key, port) }),
  ...(vlan !== undefined && { vlan }),
});

/** Whether a device has an address of a family that nobody typed. */
const isGivenTo = ({ layer3 }: NetworkModel, id: string, family: 4 | 6): boolean =>
  [...layer3.leases.values()].some(
    ({ client, address }) => client.device === id && address.address.family === family,
  ) ||
  (family === 6 &&
    (layer3.nodes.get(id)?.interfaceStates ?? []).some(
      ({ config, addresses }) =>
        config.v6?.slaac && addresses.some(({ address }) => address.family === 6 && !isLinkLocal(address)),
    ));

interface Probing {
  readonly does: keyof typeof DOES;
  readonly block?: string;
  readonly service?: string;
}

/** What comes of something being plugged in, in one family. */
function tried(
  context: CheckContext,
  { does, block, service }: Probing,
  targets: readonly string[],
  instance: Instance,
  socket: Socket,
  family: 4 | 6,
): Item {
  const { student } = context;
  const where = socket.radio
    ? `In “${socket.radio.ssid}” of ${instance.name}`
    : `In ${socket.port} of ${instance.name}`;
  const place: Place = { ...placeOf(instance), port: socket.port };
  const { given, settled } = plugIn(student, instance, socket);
  if (does === 'lease') {
    const wanted = block === undefined ? null : blockOf(block);
    const own = globalAddressesOf(given(family), PLUGGED_IN, family);
    // Where nobody is given anything, that nothing is given here shows nothing.
    if (!own.length) {
      const isGiven = [...student.instances.keys()].some((id) => isGivenTo(student, id, family));
      return (isGiven ? lost : absent)(`${where} it is given no IPv${family} address.`, place);
    }
    const text = `${where} it is given ${own.map(formatInterfaceAddress).join(' and ')}.`;
    return !wanted || own.every((on) => contains(wanted, on.address))
      ? met(text, place)
      : lost(`${text} That lies outside ${context.mark(block!, 'what is asked for', block)}.`, place);
  }
  // Where nothing is given it is set up as those are that it hears.
  const { model } = settled(family);
  const own = globalAddressesOf(model, PLUGGED_IN, family);
  const reaches = (id: string): 'yes' | 'no' | 'uncertain' | 'arrives' => {
    const probe = probeOf(service);
    const found = globalAddressesOf(model, id, family).map(({ address }) => {
      const trace = model.reach.ask(PLUGGED_IN, { device: id, address }, probe);
      if (trace.answer === 'uncertain') return 'uncertain';
      if (service !== undefined)
        return attemptOf(model, trace, probe) === 'open' ? 'yes' : trace.reached ? 'arrives' : 'no';
      return trace.answer === 'yes' ? 'yes' : trace.reached ? 'arrives' : 'no';
    });
    return (['yes', 'uncertain', 'arrives'] as const).find((each) => found.includes(each)) ?? 'no';
  };
  if (does === 'refused') {
    const heard = [...model.instances.keys()].filter((id) => id !== PLUGGED_IN && reaches(id) === 'yes');
    const isAlive = Object.entries(student.topology.links).some(
      ([id, { a, b }]) =>
        student.layer1.links.get(id)?.up === true && [a, b].some((end) => instanceId(end) === instance.id),
    );
    if (!isAlive) return absent(`Nothing works at ${instance.name}, so that it refuses shows nothing.`, place);
    const first = model.instances.get(heard[0] ?? '');
    return first ? lost(`${where} it reaches ${first.name}.`, place) : met(`${where} it reaches nobody.`, place);
  }
  if (!own.length) return absent(`${where} it has no IPv${family} address.`, place);
  const asked = targets.map((role) => ({ role, device: context.device(role) }));
  const missing = asked.find(({ device }) => !device);
  if (missing) return absent(`Nothing in the drawing plays the part of ${context.roleName(missing.role)}.`);
  const outcomes = asked.map(({ device }) => ({ device: device!, outcome: reaches(device!.id) }));
  const named = (list: typeof outcomes): string => list.map(({ device }) => device.name).join(' and ');
  const places = outcomes.map(({ device }) => placeOf(device));
  const open = outcomes.filter(({ outcome }) => outcome === 'uncertain');
  if (does === 'reach') {
    const failing = outcomes.filter(({ outcome }) => outcome !== 'yes');
    if (!failing.length) return met(`${where} it reaches ${named(outcomes)}.`, place, ...places);
    const item = lost(`${where} it does not reach ${named(failing)}.`, place, ...places);
    return failing.length === open.length ? { ...item, met: null, code: 'UNCERTAIN' } : item;
  }
  const reached = outcomes.filter(({ outcome }) => outcome === 'yes' || outcome === 'arrives');
  if (reached.length) return lost(`${where} it reaches ${named(reached)}.`, place, ...places);
  if (open.length)
    return {
      ...lost(`${where} it is not certain whether it reaches ${named(open)}.`, place, ...places),
      met: null,
      code: 'UNCERTAIN',
    };
  // What reaches nobody at all is not kept apart.
  const works = [...model.instances.keys()].some(
    (id) =>
      id !== PLUGGED_IN &&
      globalAddressesOf(model, id, family).some(
        ({ address }) => model.reach.answer(PLUGGED_IN, { device: id, address }).answer === 'yes',
      ),
  );
  return works
    ? met(`${where} it does not reach ${named(outcomes)}.`, place, ...places)
    : absent(`${where} it reaches nobody at all, which shows nothing.`, place);
}
