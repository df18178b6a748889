import { type Instance, type NetworkModel, instanceId } from '../../engine';
import { type Link, type LinkEnd, entriesById } from '../../topology';

/** A link as one of its devices sees it. */
export interface OwnLink {
  id: string;
  link: Link;
  mine: LinkEnd;
  other: LinkEnd;
}

const cache = new WeakMap<NetworkModel, Map<string, OwnLink[]>>();

/** The links of a device, sorted by link id. */
export function instanceLinks(model: NetworkModel, instance: Instance): readonly OwnLink[] {
  let all = cache.get(model);
  if (!all) {
    cache.set(model, (all = new Map<string, OwnLink[]>()));
    for (const [id, link] of entriesById(model.topology.links))
      for (const [mine, other] of [
        [link.a, link.b],
        [link.b, link.a],
      ] as const) {
        const key = instanceId(mine);
        all.set(key, [...(all.get(key) ?? []), { id, link, mine, other }]);
      }
  }
  return all.get(instance.id) ?? [];
}

/** The links between two devices. */
export const linksBetween = (model: NetworkModel, a: Instance, b: Instance): OwnLink[] =>
  instanceLinks(model, a).filter((link) => instanceId(link.other) === b.id);
