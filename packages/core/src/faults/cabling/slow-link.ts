import { type DrawingFaultOperator } from '../fault';
import { linkName, pluggedEnds } from '../places';

export const slowLink: DrawingFaultOperator = {
  kind: 'slowLink',
  title: 'A link is too slow for its job',
  *faultsIn(topology) {
    for (const { link, cable, side, facts, otherFacts } of pluggedEnds(topology)) {
      const common = facts.speeds.filter((speed) => otherFacts.speeds.includes(speed));
      const speed = Math.min(...common);
      if (side === 'b' || common.length < 2) continue;
      yield {
        at: { link },
        text: `${linkName(topology, cable)} runs at ${speed} Mb/s, where ${Math.max(...common)} would do.`,
        commands: [cable.a, cable.b].map(({ device, port }) => ({
          kind: 'changePort' as const,
          device,
          port,
          set: { speed },
        })),
      };
    }
  },
};
