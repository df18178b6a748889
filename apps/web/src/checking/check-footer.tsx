import { Box, Button } from '@mui/material';
import { type ReactNode } from 'react';
import { Key } from '../ui/keys/key';

/** What is shown beside the student's work. */
export type Side = 'none' | 'reference' | 'differences' | 'roles' | 'comments' | 'answers';

/** The keys of the page, and what can be shown beside. */
export function CheckFooter({
  sections,
  side,
  onSide,
  hasAnswers,
  comments,
  causes,
  isMine,
}: {
  sections: number;
  side: Side;
  onSide: (side: Side) => void;
  hasAnswers: boolean;
  /** How many there are. */
  comments: number;
  causes: number;
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
      {causes > 0 && (
        <span>
          <Key id="cause" keys="A" /> cause
        </span>
      )}
      <Beside side="reference" now={side} onSide={onSide}>
        <Key id="reference" keys="R" /> reference
      </Beside>
      <span>
        <Key id="reference-instead" keys="X" /> in place
      </span>
      <Beside side="differences" now={side} onSide={onSide}>
        <Key id="differences" keys="D" /> differences
      </Beside>
      <Beside side="roles" now={side} onSide={onSide}>
        <Key id="roles" keys="W" /> who is who
      </Beside>
      <Beside side="comments" now={side} onSide={onSide}>
        <Key id="comments" keys="Shift C" /> {comments ? `comments (${comments})` : 'comments'}
      </Beside>
      {isMine && (
        <span>
          <Key id="points" keys="E" /> points
        </span>
      )}
      {hasAnswers && (
        <Beside side="answers" now={side} onSide={onSide}>
          answers and files
        </Beside>
      )}
    </Box>
  );
}

function Beside({
  side,
  now,
  onSide,
  children,
}: {
  side: Side;
  now: Side;
  onSide: (side: Side) => void;
  children: ReactNode;
}) {
  return (
    <Button
      size="small"
      aria-pressed={now === side}
      onClick={() => onSide(now === side ? 'none' : side)}
      sx={{ minHeight: 22, py: 0, fontSize: 12, gap: 0.5, color: 'var(--ink2)' }}
    >
      {children}
    </Button>
  );
}
