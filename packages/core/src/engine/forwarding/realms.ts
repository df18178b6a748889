import { type DataLink, UnionFind } from '../datalink';
import { forwards } from '../devices';
import { type InterfaceState, type Network } from '../network';

/** The realm of everything that stands behind no translation. */
const COMMON = -1;
type Layers = Readonly<{ layer2: DataLink; layer3: Network }>;
const known = new WeakMap<Network, (state: InterfaceState, family: 4 | 6) => number>();

/**
 * The address realm in which an interface has its addresses (RFC 2663 §2.1), as a number: what stands behind a translation
 * of its own may use the addresses that others use behind theirs. Only IPv4 is translated; parts that nothing joins are of
 * one plan, and so of one realm.
 */
export function realmsOf({ layer2, layer3 }: Layers): (state: InterfaceState, family: 4 | 6) => number {
  const before = known.get(layer3);
  if (before) return before;
  const sets = new UnionFind();
  const setOf = new Map<number, number>();
  const wire = ({ point }: InterfaceState): number | null => {
    if (point === null) return null;
    const domain = layer2.domainOf(point);
    let found = setOf.get(domain);
    if (found === undefined) setOf.set(domain, (found = sets.add()));
    return found;
  };
  /** By device: where its loopbacks belong, and what its translation holds apart. */
  const ownSet = new Map<string, number>();
  const translators: { inside: number; outside: number }[] = [];
  for (const [id, { instance, interfaceStates }] of layer3.nodes) {
    const [inside, outside] = [sets.add(), sets.add()];
    ownSet.set(id, inside);
    const sides = new Set(interfaceStates.map(({ config }) => config.natSide));
    const translates = (instance.settings.nat?.length ?? 0) > 0 && sides.has('inside') && sides.has('outside');
    if (translates) translators.push({ inside, outside });
    for (const state of interfaceStates) {
      const set = wire(state);
      if (set === null || !(translates || forwards(instance, 4) || interfaceStates.length === 1)) continue;
      sets.union(translates && state.config.natSide === 'outside' ? outside : inside, set);
    }
  }
  const behind = new Set(
    translators.flatMap(({ inside, outside }) => (sets.find(inside) === sets.find(outside) ? [] : [sets.find(inside)])),
  );
  const realmOf = (state: InterfaceState, family: 4 | 6): number => {
    if (family === 6) return COMMON;
    const root = sets.find(wire(state) ?? ownSet.get(state.instance)!);
    return behind.has(root) ? root : COMMON;
  };
  known.set(layer3, realmOf);
  return realmOf;
}
