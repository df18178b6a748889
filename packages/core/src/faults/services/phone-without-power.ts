import { type DrawingFaultOperator } from '../fault';
import { endPlace, pluggedEnds } from '../places';
import { otherPorts, plugInto } from '../cabling/replugging';

/** A port that feeds nothing (IEEE 802.3 clause 33). */
export const phoneWithoutPower: DrawingFaultOperator = {
  kind: 'phoneWithoutPower',
  title: 'A phone has no power',
  *faultsIn(topology) {
    for (const plugged of pluggedEnds(topology)) {
      if (plugged.otherFacts.poe !== 'sink' || plugged.facts.poe !== 'source') continue;
      const dead = otherPorts(topology, plugged).find((port) => port.poe !== 'source');
      const name = topology.devices[plugged.other.device]!.name;
      if (dead && topology.devices[plugged.other.device]!.powered === undefined)
        yield {
          at: endPlace(plugged),
          text: `${name} is plugged into ${plugged.device.name} ${dead.key}, which feeds nothing.`,
          commands: [plugInto(plugged, dead)],
        };
    }
  },
};
