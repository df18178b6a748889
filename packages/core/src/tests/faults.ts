import fc from 'fast-check';
import { DRAWING_FAULTS, type DrawingFaultOperator } from '../faults';
import { type Command, type Topology, applyBatch } from '../topology';

/** A mistake of any sort; the number chooses its place. */
type AnyFault = [DrawingFaultOperator, number];
export const anyFault: fc.Arbitrary<AnyFault> = fc.tuple(fc.constantFrom(...DRAWING_FAULTS), fc.nat(10_000));

/** The commands that make a mistake in a drawing; none where it has no place there. */
export function commandsOf(topology: Topology, [operator, number]: AnyFault): readonly Command[] {
  const faults = [...operator.faultsIn(topology)];
  return faults[number % faults.length]?.commands ?? [];
}

export function withFault(topology: Topology, fault: AnyFault): Topology {
  const done = applyBatch(topology, fault[0].title, [...commandsOf(topology, fault)]);
  if (!done.ok) throw new Error(done.error);
  return done.value.document;
}
