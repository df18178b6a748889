import { Box, Typography } from '@mui/material';
import { IconMinus, IconPencil, IconPlus } from '@tabler/icons-react';
import { type DrawingChange } from '@sobrin/core';
import { type Mark, type Marks } from '../drawing/marks';

const SIGNS = { added: IconPlus, changed: IconPencil, removed: IconMinus };
const TONES = { added: 'var(--spruce)', changed: 'var(--ochre-text)', removed: 'var(--brick)' };
/** More lines than this nobody reads: how many there are is told. */
const MOST = 300;

/** Changes of a drawing, a line for each thing. */
export function ChangeList({ changes }: { changes: readonly DrawingChange[] }) {
  return (
    <Box
      component="ul"
      aria-label="Changes"
      tabIndex={0}
      sx={{ listStyle: 'none', m: 0, p: 0, flex: 1, overflowY: 'auto' }}
    >
      {changes.slice(0, MOST).map(({ what, sort, id, name, details }) => {
        const Sign = SIGNS[what];
        return (
          <Box
            component="li"
            key={`${what} ${sort} ${id}`}
            sx={{ display: 'flex', gap: 1, py: '5px', borderBottom: '1px solid var(--line)' }}
          >
            <Sign size={16} style={{ color: TONES[what], flex: 'none', marginTop: 2 }} aria-hidden />
            <Box sx={{ width: 130, flex: 'none', color: 'var(--ink2)' }}>
              {sort} {what}
            </Box>
            <Box sx={{ minWidth: 0 }}>
              <b>{name}</b>
              {details.length > 0 && (
                <Typography variant="body2" color="text.secondary">
                  {details.join(' · ')}
                </Typography>
              )}
            </Box>
          </Box>
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
  marksOf(changes, { added: 'unsure', changed: 'unsure' });

function marksOf(changes: readonly DrawingChange[], marked: Partial<Record<DrawingChange['what'], Mark>>): Marks {
  const of = (sort: DrawingChange['sort']): Map<string, Mark> =>
    new Map(
      changes.flatMap((one): [string, Mark][] => {
        const mark = one.sort === sort ? marked[one.what] : undefined;
        return mark ? [[one.id, mark]] : [];
      }),
    );
  return { devices: of('device'), links: of('link'), sites: of('site') };
}
