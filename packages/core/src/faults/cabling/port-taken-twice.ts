import { type DrawingFaultOperator } from '../fault';
import { endPlace, pluggedEnds } from '../places';

export const portTakenTwice: DrawingFaultOperator = {
  kind: 'portTakenTwice',
  title: 'Two cables are in one port',
  *faultsIn(topology) {
    const ends = [...pluggedEnds(topology)];
    for (const plugged of ends) {
      const taken = ends.find(
        ({ link, end, facts }) =>
          link !== plugged.link &&
          end.device === plugged.end.device &&
          end.member === plugged.end.member &&
          facts.connector === plugged.facts.connector &&
          !facts.many,
      );
      if (taken)
        yield {
          at: { ...endPlace(plugged), port: taken.end.port },
          text: `${plugged.device.name} ${taken.end.port} has two cables.`,
          commands: [{ kind: 'setLink', id: plugged.link, set: { [plugged.side]: taken.end } }],
        };
    }
  },
};
