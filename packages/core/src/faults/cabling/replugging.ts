import { fittingMedium, portUses } from '../../engine';
import { type Command, type PortFacts, type Topology } from '../../topology';
import { type PluggedEnd } from '../places';

/** Free ports of a device into which one end of a link would fit as well. */
export const otherPorts = (topology: Topology, { end, facts, otherFacts }: PluggedEnd): PortFacts[] =>
  portUses(topology, end.device, end.member).flatMap((use) =>
    use.free && use.facts.key !== facts.key && fittingMedium(use.facts, otherFacts) !== null ? [use.facts] : [],
  );

export const fastest = ({ speeds }: PortFacts): number => Math.max(...speeds);

/** Plugs one end of a link into another port of its device; a medium that fits no more is changed with it. */
export function plugInto({ link, cable, side, end, otherFacts }: PluggedEnd, port: PortFacts): Command {
  const isCopper = cable.medium === 'straight' || cable.medium === 'crossover';
  const medium = isCopper && port.connector === 'copper' ? undefined : (fittingMedium(port, otherFacts) ?? undefined);
  return {
    kind: 'setLink',
    id: link,
    set: { [side]: { ...end, port: port.key }, ...(medium && { medium }) },
  };
}
