import { Box, Button } from '@mui/material';
import { Key } from '../ui/keys/key';

/** What is shown beside the student's work. */
export type Side = 'none' | 'reference' | 'roles' | 'answers';

/** The keys of the page, and what can be shown beside. */
export function CheckFooter({
  sections,
  side,
  onSide,
  hasAnswers,
  isMine,
}: {
  sections: number;
  side: Side;
  onSide: (side: Side) => void;
  hasAnswers: boolean;
  /** Whether marks may be changed here. */
  isMine: boolean;
}) {
  return (
    <Box
      component="footer"
      sx={{
        minHeight: 28,
        flex: 'none',
        px: 2,
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 2,
        background: 'var(--sunk)',
        borderTop: '1px solid var(--line)',
        fontSize: 12,
        color: 'var(--ink2)',
      }}
    >
      <span>
        <Key id="next-student" keys="J" /> <Key id="student-before" keys="K" /> student
      </span>
      <span>
        <Key id="section" keys="1" /> … <Key id="section" keys={String(Math.min(9, sections))} /> section
      </span>
      <span>
        <kbd>↑</kbd> <kbd>↓</kbd> requirement
      </span>
      <Button
        size="small"
        aria-pressed={side === 'reference'}
        onClick={() => onSide(side === 'reference' ? 'none' : 'reference')}
        sx={{ minHeight: 22, py: 0, fontSize: 12, color: 'var(--ink2)' }}
      >
        <Key id="reference" keys="R" />
        &nbsp;reference
      </Button>
      <Button
        size="small"
        aria-pressed={side === 'roles'}
        onClick={() => onSide(side === 'roles' ? 'none' : 'roles')}
        sx={{ minHeight: 22, py: 0, fontSize: 12, color: 'var(--ink2)' }}
      >
        <Key id="roles" keys="W" />
        &nbsp;who is who
      </Button>
      {isMine && (
        <span>
          <Key id="points" keys="E" /> points
        </span>
      )}
      {hasAnswers && (
        <Button
          size="small"
          aria-pressed={side === 'answers'}
          onClick={() => onSide(side === 'answers' ? 'none' : 'answers')}
          sx={{ minHeight: 22, py: 0, fontSize: 12, color: 'var(--ink2)' }}
        >
          answers and files
        </Button>
      )}
    </Box>
  );
}
