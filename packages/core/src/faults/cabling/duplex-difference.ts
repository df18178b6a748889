import { type DrawingFaultOperator } from '../fault';
import { endPlace, pluggedEnds } from '../places';

/** A port that is set to full duplex tells the other nothing, and that falls back to half (IEEE 802.3 clause 28.2.3.1). */
export const duplexDifference: DrawingFaultOperator = {
  kind: 'duplexDifference',
  title: 'The ends of a link differ in duplex',
  *faultsIn(topology) {
    for (const plugged of pluggedEnds(topology)) {
      const { facts, otherFacts, end } = plugged;
      // Faster ports do not come up at all where one of them does not negotiate.
      const speed = Math.max(0, ...facts.speeds.filter((each) => each <= 100 && otherFacts.speeds.includes(each)));
      if (facts.connector === 'copper' && speed > 0)
        yield {
          at: endPlace(plugged),
          text: `${plugged.device.name} ${end.port} is set to full duplex, and the other end finds its own.`,
          commands: [
            { kind: 'changePort', device: end.device, port: end.port, set: { speed, duplex: 'full' } },
            {
              kind: 'changePort',
              device: plugged.other.device,
              port: plugged.other.port,
              set: { speed: null, duplex: null },
            },
          ],
        };
    }
  },
};
