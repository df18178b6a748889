import { type Static, Type } from '@sinclair/typebox';
import { contains, parsePrefix } from '../address';
import { type Instance, type NetworkModel, instanceId } from '../engine';
import { type Plan } from '../plan';
import { Closed, DEVICE_KINDS, Id, Maybe, Name, OneOf } from '../topology';
import { Ref } from './rule';

/**
 * Devices by what they are, not by name: a kind, hosts or equipment, at a site, in a planned subnet of a group of the brief,
 * behind others, or added since the starter. All that is said must hold.
 */
export const Selection = Closed({
  kind: Maybe(OneOf(...DEVICE_KINDS)),
  sort: Maybe(OneOf('hosts', 'network')),
  site: Maybe(Name),
  group: Maybe(Id),
  behind: Maybe(Ref),
  added: Maybe(Type.Literal(true)),
  least: Type.Integer({ minimum: 1, maximum: 5000, description: 'how many of them there must be' }),
});
export type Selection = Static<typeof Selection>;

/** What a selection is evaluated with, beside the drawing. */
interface Around {
  /** Null for a reference: its plan is not judged by. */
  readonly plan: Plan | null;
  /** The devices of the starter; null for a reference, of which nothing is added. */
  readonly starter: ReadonlySet<string> | null;
  /** The devices that a ref stands for in this drawing. */
  readonly at: (ref: string) => readonly Instance[];
}

const isEnd = ({ model }: Instance): boolean => model.class === 'end';
const alike = (one: string, other: string): boolean => one.trim().toLowerCase() === other.trim().toLowerCase();

/** The devices of a drawing that a selection chooses: those of the starter first, then by id. */
export function selected(selection: Selection, model: NetworkModel, around: Around): Instance[] {
  const { topology, instances } = model;
  const { kind, sort, site, group, behind, added } = selection;
  const before = behind === undefined ? null : new Set(around.at(behind).map(({ id }) => id));
  const hanging = new Set(
    before
      ? Object.values(topology.links).flatMap(({ a, b }) => {
          const [one, other] = [instanceId(a), instanceId(b)];
          return before.has(one) ? [other] : before.has(other) ? [one] : [];
        })
      : [],
  );
  const blocks = Object.values(around.plan?.blocks ?? {})
    .filter((block) => group !== undefined && block.group === group)
    .flatMap(({ prefix, prefix6 }) => [prefix, prefix6])
    .flatMap((text) => {
      const read = text === undefined ? null : parsePrefix(text);
      return read?.ok ? [read.value] : [];
    });
  const isIn = (instance: Instance): boolean =>
    (model.layer3.nodes.get(instance.id)?.interfaceStates ?? []).some(({ addresses }) =>
      addresses.some((on) => blocks.some((block) => block.family === on.address.family && contains(block, on.address))),
    );
  const isOld = ({ id }: Instance): boolean => around.starter?.has(id) ?? true;
  return [...instances.values()]
    .filter(
      (each) =>
        (kind === undefined || each.model.kind === kind) &&
        (sort === undefined || isEnd(each) === (sort === 'hosts')) &&
        (site === undefined || alike(topology.sites[each.device.site ?? '']?.name ?? '', site)) &&
        (group === undefined || isIn(each)) &&
        (behind === undefined || hanging.has(each.id)) &&
        (!added || !isOld(each)),
    )
    .sort((one, other) => Number(isOld(other)) - Number(isOld(one)) || (one.id < other.id ? -1 : 1));
}
