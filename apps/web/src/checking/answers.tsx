import { Box, Link, Typography } from '@mui/material';
import { type SubmissionView } from '@sobrin/contracts';
import { type Task } from '@sobrin/core/spec';
import { bytes, points } from '../ui/words';

/** What was handed in besides the drawing. */
export function Answers({
  submission,
  tasks,
}: {
  submission: Pick<SubmissionView, 'answers' | 'attachments'> & Partial<Pick<SubmissionView, 'asked'>>;
  tasks: readonly Task[];
}) {
  const { tried = [], hints = [] } = submission.asked ?? {};
  return (
    <Box sx={{ p: 2 }}>
      {tasks.map(
        (task, at) =>
          submission.answers[task.id] !== undefined && (
            <Box key={task.id} sx={{ mb: 2 }}>
              <Typography variant="h3">
                {at + 1}. {task.text}
              </Typography>
              <Typography sx={{ whiteSpace: 'pre-wrap', borderLeft: '3px solid var(--plum)', pl: 1, mt: 0.5 }}>
                {submission.answers[task.id]}
              </Typography>
              {tried.some((each) => each.task === task.id) && (
                <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5, overflowWrap: 'anywhere' }}>
                  Tried:{' '}
                  {tried
                    .filter((each) => each.task === task.id)
                    .map(({ answer, right }) => `${answer}, ${right ? 'right' : 'not right'}`)
                    .join('; ')}
                </Typography>
              )}
            </Box>
          ),
      )}
      {hints.length > 0 && (
        <Box sx={{ mb: 2 }}>
          <Typography variant="h3">Hints asked for</Typography>
          <Box component="ul" aria-label="Hints asked for" sx={{ m: 0, mt: 0.5, pl: 2.5 }}>
            {hints.map(({ requirement, text, cost }, nth) => (
              <li key={nth}>
                {requirement}: {text} <span style={{ color: 'var(--ink3)' }}>−{points(cost)}</span>
              </li>
            ))}
          </Box>
        </Box>
      )}
      {submission.attachments.map((attachment) => (
        <Typography key={attachment.id}>
          <Link href={`/api/attachments/${attachment.id}`}>{attachment.name}</Link>{' '}
          <span style={{ color: 'var(--ink3)' }}>{bytes(attachment.size)}</span>
        </Typography>
      ))}
    </Box>
  );
}
