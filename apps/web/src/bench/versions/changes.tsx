import { Box, type SxProps } from '@mui/material';
import { IconMinus, IconPencil, IconPlus } from '@tabler/icons-react';
import { type DrawingChange } from '@sobrin/core/editing';
import { type Mark, type Marks } from '../../drawing/marks';

const SIGNS = { added: IconPlus, changed: IconPencil, removed: IconMinus };
const TONES = { added: 'var(--spruce)', changed: 'var(--ochre-text)', removed: 'var(--brick)' };
/** More lines than this nobody reads: how many there are is told. */
const MOST = 300;
/** Said once for all lines: a style for each of their parts would take longer than the comparison. */
const LIST: SxProps = {
  listStyle: 'none',
  m: 0,
  p: 0,
  flex: 1,
  overflowY: 'auto',
  '& > li': { display: 'flex', gap: 1, py: '5px', borderBottom: '1px solid var(--line)' },
  '& svg': { flex: 'none', mt: '2px' },
  '& span': { width: 130, flex: 'none', color: 'var(--ink2)' },
  '& div': { minWidth: 0 },
  '& p': { typography: 'body2', color: 'text.secondary', m: 0 },
};

/** Changes of a drawing, a line for each thing. */
export function ChangeList({ changes }: { changes: readonly DrawingChange[] }) {
  return (
    <Box component="ul" aria-label="Changes" tabIndex={0} sx={LIST}>
      {changes.slice(0, MOST).map(({ what, sort, id, name, details }) => {
        const Sign = SIGNS[what];
        return (
          <li key={`${what} ${sort} ${id}`}>
            <Sign size={16} style={{ color: TONES[what] }} aria-hidden />
            <span>
              {sort} {what}
            </span>
            <div>
              <b>{name}</b>
              {details.length > 0 && <p>{details.join(' · ')}</p>}
            </div>
          </li>
        );
      })}
      {changes.length > MOST && <li>and {changes.length - MOST} more</li>}
    </Box>
  );
}

/** On the drawing before changes: what is not there any more, and what is other afterwards. */
export const marksBefore = (changes: readonly DrawingChange[]): Marks =>
  marksOf(changes, { removed: 'lost', changed: 'unsure' });

/** On the drawing after changes: what is new, and what was other before. */
export const marksAfter = (changes: readonly DrawingChange[]): Marks =>
  marksOf(changes, { added: 'met', changed: 'unsure' });

function marksOf(changes: readonly DrawingChange[], marked: Partial<Record<DrawingChange['what'], Mark>>): Marks {
  const of = (sort: DrawingChange['sort']): Map<string, Mark> =>
    new Map(
      changes.flatMap((change): [string, Mark][] => {
        const mark = change.sort === sort ? marked[change.what] : undefined;
        return mark ? [[change.id, mark]] : [];
      }),
    );
  return { devices: of('device'), links: of('link'), sites: of('site') };
}
