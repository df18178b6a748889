import { type InterfaceAddress, type Prefix, parsePrefix } from '../../../address';
import { type Instance } from '../../../engine';
import { type Problem } from '../../../topology';
import { type CheckContext, type Item, eachRole, lost, placeOf } from '../../rule';

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
  return {
    ...lost(unreadable ? unreadable.text : `${instance.name} has no IPv${family} address.`, placeOf(instance)),
    grounded: false,
  };
}

export const eachAddress = (
  context: CheckContext,
  ref: string,
  family: 4 | 6,
  judge: (on: InterfaceAddress, instance: Instance, role: string) => Item,
): Item[] =>
  eachRole(context, ref, (instance, role) => {
    const own = context.addresses(instance, family);
    return own.length ? own.map((on) => judge(on, instance, role)) : withoutAddress(context, instance, family);
  });
