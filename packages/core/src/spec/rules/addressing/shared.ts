import { type Address, type InterfaceAddress, type Prefix, contains, parsePrefix, sameAddress } from '../../../address';
import { type Instance, type Node, allAddresses } from '../../../engine';
import { type Problem } from '../../../topology';
import { type CheckContext, type Item, absent, eachRoleAndFamily, placeOf } from '../../rule';
import { leaseFault } from '../connectivity/fault-place';

export const prefixProblem = (property: string, text: string): Problem[] => {
  const read = parsePrefix(text);
  return read.ok ? [] : [{ place: property, text: read.error.text }];
};
export const blockOf = (text: string): Prefix | null => {
  const read = parsePrefix(text);
  return read.ok ? read.value : null;
};

/** Why a device has no readable address: the sentence of the address reader where something is typed. */
export function withoutAddress(context: CheckContext, instance: Instance, family: 4 | 6): Item {
  const unreadable = context.student.layer3.nodes
    .get(instance.id)
    ?.refused.find((reason) => reason.code === 'ADDRESS_UNREADABLE');
  const fault = unreadable ? null : leaseFault(context, instance, family);
  return absent(
    unreadable ? unreadable.text : `${instance.name} has no IPv${family} address.`,
    ...(fault ? [fault] : []),
    placeOf(instance),
  );
}

/** One item for each address of each role, in the families that the rule judges; a device without one is lost. */
export const eachAddress = (
  context: CheckContext,
  ref: string,
  rule: { readonly family?: '4' | '6' },
  judge: (on: InterfaceAddress, instance: Instance, role: string) => Item,
): Item[] =>
  eachRoleAndFamily(context, ref, rule, (instance, family, role) => {
    const own = context.addresses(instance, family);
    return own.length ? own.map((on) => judge(on, instance, role)) : withoutAddress(context, instance, family);
  });

/** Where a host sends what is not for its own subnets: typed, leased or told by a router; null where it has no way out. */
export function wayOut({ student }: CheckContext, { id }: Instance, family: 4 | 6): Address | null {
  return student.layer3.nodes.get(id)?.table.lookup({ family, value: 0n })[0]?.via ?? null;
}

/** Whether a device answers for an address: its own, that of one link, or one that it shares as a virtual router. */
export const answersFor = (context: CheckContext, instance: Instance, address: Address): boolean =>
  context.addresses(instance, address.family).some((on) => sameAddress(on.address, address)) ||
  statesOf(context.student.layer3.nodes.get(instance.id)).some((state) =>
    allAddresses(state).some((own) => sameAddress(own, address)),
  );
const statesOf = (node: Node | undefined) => node?.interfaceStates ?? [];

/** Whether an address lies in one of some subnets. */
export const liesIn = (subnets: readonly Prefix[], address: Address): boolean =>
  subnets.some((subnet) => contains(subnet, address));
