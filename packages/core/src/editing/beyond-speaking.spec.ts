import { twoLans } from '../tests/topologies';
import { type Comment, type Topology } from '../topology';
import { beyondSpeaking } from '.';

const entry = (by: string, text = 'x') => ({ by, at: '2026-11-30T10:00:00Z', text });
const drawn = (comments: Record<string, Comment>, more: Partial<Topology> = {}): Topology => ({
  ...twoLans(),
  comments,
  ...more,
});
const at = { x: 1, y: 1 };
const before = drawn({ theirs: { at, entries: [entry('Zofia')] }, mine: { at, entries: [entry('Maren')] } });

test.each<[string, Topology]>([
  ['nothing', before],
  ['a new talk', drawn({ ...before.comments, new: { at, entries: [entry('Maren')] } })],
  ['an answer', drawn({ ...before.comments, theirs: { at, entries: [entry('Zofia'), entry('Maren')] } })],
  ['settling one', drawn({ ...before.comments, theirs: { at, resolved: true, entries: [entry('Zofia')] } })],
  ['taking one’s own back', drawn({ theirs: before.comments!.theirs! })],
])('speaking is %s', (_what, after) => expect(beyondSpeaking(before, after, 'Maren')).toBeNull());

test.each<[string, Topology, RegExp]>([
  ['another title', { ...before, title: 'Mine' }, /the drawing/],
  ['another drawing', { ...before, devices: {}, links: {} }, /the drawing/],
  ['other people’s talks taken away', drawn({ mine: before.comments!.mine! }), /others have spoken/],
  ['all talks taken away', twoLans(), /others have spoken/],
  [
    'other words in their mouth',
    drawn({ ...before.comments, theirs: { at, entries: [entry('Zofia', 'y')] } }),
    /stays as it was said/,
  ],
  ['words in another name', drawn({ ...before.comments, new: { at, entries: [entry('Zofia')] } }), /not said by Zofia/],
  [
    'a talk that moves',
    drawn({ ...before.comments, theirs: { at: { x: 2, y: 1 }, entries: [entry('Zofia')] } }),
    /about/,
  ],
])('%s is more than that', (_what, after, why) => expect(beyondSpeaking(before, after, 'Maren')).toMatch(why));
