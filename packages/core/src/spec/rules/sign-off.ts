import { Type } from '@sinclair/typebox';
import { Closed, Line } from '../../topology';
import { defineRule, lost } from '../rule';

/** Requirements that a person confirms having seen: no drawing shows them. */
export const signedOffRule = defineRule({
  kind: 'signedOff',
  family: 'signOff',
  title: 'A person has seen it',
  schema: Closed({ kind: Type.Literal('signedOff'), what: Line }),
  slots: {
    what: {
      type: 'text',
      title: 'What is to be seen',
      problem: (text) => (text.trim() ? null : 'Write what a person is to see, as in “the page of the shop opens”.'),
    },
  },
  fresh: { kind: 'signedOff', what: 'it works at the bench' },
  problems: (rule) =>
    rule.what.trim() ? [] : [{ place: 'what', text: 'Write what a person is to see, in a few words.' }],
  sentence: 'A person has seen that {what}.',
  evaluate: () => [{ ...lost('Nobody has confirmed it yet.'), met: null, code: 'UNCERTAIN' as const }],
});
