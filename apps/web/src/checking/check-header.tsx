import { Button, Stack, Typography } from '@mui/material';
import { IconChevronLeft, IconChevronRight } from '@tabler/icons-react';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { TopBar } from '../ui/top-bar';
import { points, whenIn } from '../ui/words';

/** Whose submission it is, its mark, and the ways to the next student. */
export function CheckHeader({
  lab,
  submission,
  at,
  count,
  onGoto,
  isChecking,
  onCheck,
}: {
  lab: LabView;
  submission: SubmissionView;
  /** Its place among those that were handed in; -1 where that is not known yet. */
  at: number;
  count: number;
  onGoto: (by: number) => void;
  isChecking: boolean;
  onCheck: () => void;
}) {
  const { result } = submission;
  return (
    <TopBar
      title={submission.student.name}
      under={`${lab.title} · attempt ${submission.attempt} · handed in ${whenIn(lab.timeZone, submission.handedInAt)}, ${submission.late ? 'late' : 'on time'}`}
      before={
        <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
          <Button
            variant="outlined"
            aria-label="Previous student"
            disabled={at <= 0}
            onClick={() => onGoto(-1)}
            startIcon={<IconChevronLeft size={16} />}
          >
            <kbd>K</kbd>
          </Button>
          <Typography className="mono" sx={{ whiteSpace: 'nowrap' }}>
            {at >= 0 && `${at + 1} of ${count}`}
          </Typography>
          <Button
            variant="outlined"
            aria-label="Next student"
            disabled={at < 0 || at >= count - 1}
            onClick={() => onGoto(1)}
            endIcon={<IconChevronRight size={16} />}
          >
            <kbd>J</kbd>
          </Button>
        </Stack>
      }
    >
      {submission.stale && <Typography sx={{ color: 'var(--ochre-text)' }}>Checked by another version</Typography>}
      {lab.teaches && (
        <Button variant={submission.stale ? 'contained' : 'outlined'} disabled={isChecking} onClick={onCheck}>
          {isChecking ? 'Checking' : 'Check again'}
        </Button>
      )}
      {result && (
        <Typography
          className="mono"
          aria-label={`Mark ${points(result.points)} of ${points(result.of)}`}
          sx={{ fontSize: 23, fontWeight: 700, whiteSpace: 'nowrap' }}
        >
          {points(result.points)} <span style={{ fontSize: 15, color: 'var(--ink2)' }}>/ {points(result.of)}</span>
        </Typography>
      )}
    </TopBar>
  );
}
