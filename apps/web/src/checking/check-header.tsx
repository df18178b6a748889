import { Box, Button, Stack, Typography } from '@mui/material';
import { IconChevronLeft, IconChevronRight } from '@tabler/icons-react';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { Choice } from '../ui/fields';
import { penaltyWords, takenOff } from '../ui/mark-words';
import { TopBar } from '../ui/top-bar';
import { whenIn } from '../ui/words';
import { MarkWithSteps } from './mark-with-steps';
import { Key } from '../ui/keys/key';

/** Whose submission it is, its mark, and the ways to the next student. */
export function CheckHeader({
  lab,
  submission,
  at,
  count,
  onGoto,
  isChecking,
  onCheck,
  onAttempt,
}: {
  lab: LabView;
  submission: SubmissionView;
  /** Its place among those that were handed in; -1 where that is not known yet. */
  at: number;
  count: number;
  onGoto: (by: number) => void;
  isChecking: boolean;
  onCheck: () => void;
  /** Goes to another attempt of the same student. */
  onAttempt: (id: string) => void;
}) {
  const { result, penalty } = submission;
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
            <Key id="student-before" keys="K" />
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
            <Key id="next-student" keys="J" />
          </Button>
        </Stack>
      }
    >
      {submission.attempts.length > 1 && (
        <Box sx={{ flex: 'none', maxWidth: 176 }}>
          <Choice
            label="Attempt"
            value={submission.id}
            options={submission.attempts.map(({ id, attempt, late }) => ({
              value: id,
              text: `Attempt ${attempt} of ${submission.attempts.length}${late ? ', late' : ''}`,
            }))}
            onChange={onAttempt}
          />
        </Box>
      )}
      {submission.penalty && (
        <Typography sx={{ color: 'var(--ochre-text)', whiteSpace: 'nowrap' }} title={penaltyWords(submission.penalty)}>
          {takenOff(submission.result!.points, submission.penalty)}
        </Typography>
      )}
      {submission.stale && <Typography sx={{ color: 'var(--ochre-text)' }}>Checked by another version</Typography>}
      {lab.teaches && (
        <Button
          sx={{ flex: 'none' }}
          variant={submission.stale ? 'contained' : 'outlined'}
          disabled={isChecking}
          onClick={onCheck}
        >
          {isChecking ? 'Checking' : 'Check again'}
        </Button>
      )}
      {result && <MarkWithSteps result={result} penalty={penalty} />}
    </TopBar>
  );
}
