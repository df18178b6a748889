import { contains, subnetOf } from '../../address';
import { type Instance } from '../../engine';
import { Maybe, OneOf } from '../../topology';
import { type CheckContext, REF_WORDS, type Slot } from '../rule';

/** Of whom something is asked: of everything that is drawn there, or of the devices asked for alone. */
export const Whose = Maybe(OneOf('asked'));
export const whoseSlot = {
  type: 'choice',
  title: 'Of whom it is asked',
  quiet: ', ',
  options: [
    { value: '', text: 'of everything that is drawn there' },
    { value: 'asked', text: 'whatever else is drawn there', choice: 'of the devices asked for alone' },
  ],
} as const satisfies Slot;

/** Of very many devices nobody asked for one sees enough in the first. */
const MOST_STRANGERS = 200;

/** The devices inside that play no role. */
export function strangersIn(context: CheckContext): Instance[] {
  const { instances, topology } = context.student;
  return [...instances.values()]
    .filter(
      ({ id, model, device }) =>
        model.class !== 'cloud' &&
        context.roleOf(id) === null &&
        (device.site === undefined || topology.sites[device.site]?.kind !== 'provider'),
    )
    .slice(0, MOST_STRANGERS);
}

/** Those of them that stand among the devices of a ref: of all of a sort, or in a subnet of one of them. */
export function strangersAmong(context: CheckContext, ref: string): Instance[] {
  const others = strangersIn(context);
  if (ref === '@hosts') return others.filter(({ model }) => model.class === 'end');
  if (ref === '@network') return others.filter(({ model }) => model.class !== 'end');
  if (Object.hasOwn(REF_WORDS, ref)) return others;
  const there = context.roles(ref).flatMap((role) => context.device(role) ?? []);
  return others.filter((other) =>
    ([4, 6] as const).some((family) => {
      const subnets = there.flatMap((device) => context.addresses(device, family).map(subnetOf));
      return context.addresses(other, family).some((on) => subnets.some((subnet) => contains(subnet, on.address)));
    }),
  );
}
