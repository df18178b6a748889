import { type DrawingFaultOperator } from '../fault';

export const untitled: DrawingFaultOperator = {
  kind: 'untitled',
  title: 'Title, author or legend of the drawing is missing',
  *faultsIn(topology) {
    for (const what of ['title', 'author', 'legend'] as const)
      if (topology[what] !== undefined)
        yield {
          at: {},
          text: `The ${what} of the drawing is missing.`,
          commands: [{ kind: 'setDocument', set: { [what]: null } }],
        };
  },
};
