import { Box, Link, Typography } from '@mui/material';
import { type SubmissionView } from '@sobrin/contracts';
import { type Task } from '@sobrin/core/spec';
import { bytes } from '../ui/words';

/** What was handed in besides the drawing. */
export function Answers({
  submission,
  tasks,
}: {
  submission: Pick<SubmissionView, 'answers' | 'attachments'>;
  tasks: readonly Task[];
}) {
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
            </Box>
          ),
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
