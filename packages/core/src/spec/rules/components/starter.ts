import { Type } from '@sinclair/typebox';
import { Closed, canonicalJson, entriesById, entryOf } from '../../../topology';
import { withoutLayout } from '../../layout';
import { type Item, absent, defineRule, lost, met } from '../../rule';

export const starterKeptRule = defineRule({
  kind: 'starterKept',
  family: 'components',
  title: 'Nothing of the starter was changed or removed',
  schema: Closed({ kind: Type.Literal('starterKept') }),
  slots: {},
  fresh: { kind: 'starterKept' },
  sentence: 'Nothing of what came with the starter was changed or removed.',
  // Where something stands, and how its cables bend, may be changed.
  evaluate: (_rule, { starter, student }) => {
    if (!starter) return [absent('The lab has no starter.')];
    const [before, now] = [withoutLayout(starter), withoutLayout(student.topology)];
    const items = (['devices', 'links', 'sites'] as const).flatMap((part) =>
      entriesById<object>(before[part]).map(([id, was]): Item => {
        const is = entryOf<object>(now[part], id);
        const place = part === 'devices' ? { device: id } : part === 'links' ? { link: id } : { site: id };
        const name = part === 'links' ? 'A link of the starter' : starter[part][id]!.name;
        if (!is) return lost(`${name} is gone.`);
        return canonicalJson(is) === canonicalJson(was)
          ? met(`${name} is as it was.`, place)
          : lost(`${name} was changed.`, place);
      }),
    );
    return items.length ? items : [absent('The starter is empty.')];
  },
});
