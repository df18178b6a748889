import { Type } from '@sinclair/typebox';
import { Closed } from '../../topology';
import { type Item, absent, defineRule, lost, met } from '../rule';

export const titledRule = defineRule({
  kind: 'titled',
  family: 'documentation',
  title: 'Title, author and legend',
  schema: Closed({ kind: Type.Literal('titled') }),
  slots: {},
  fresh: { kind: 'titled' },
  sentence: 'Title, author and legend of the drawing are filled in.',
  // Title and author of a work are written by Sobrin when it is begun: whoever removes them loses, nobody earns by them.
  evaluate: (_rule, context) => {
    const { topology } = context.student;
    // Words on an empty sheet are no documentation of anything.
    const grounded = Object.keys(topology.devices).length > 0;
    return (['title', 'author', 'legend'] as const).map((part): Item => {
      const text = topology[part]?.trim();
      if (!grounded) return absent(text ? 'Nothing is drawn.' : `The ${part} is missing.`);
      if (!text) return lost(`The ${part} is missing.`);
      return { ...met(`The ${part} is filled in.`), by: text, ...(part !== 'legend' && { weight: 0 }) };
    });
  },
});
