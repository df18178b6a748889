import { Box, Button, Link as MuiLink, Stack, Typography } from '@mui/material';
import { type StudentLabView } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { ApiError, api } from '../api/client';
import { newId } from '../api/new-id';
import { useChange } from '../api/queries';
import { AskDialog } from '../ui/ask-dialog';
import { Panel } from '../ui/panel';
import { Failure } from '../ui/states';
import { whenIn } from '../ui/words';
import { attemptWords, hiddenWords } from './attempt-words';
import { sendWork } from './send-work';
import { useOwnDrawing, useOwnPlan } from './use-own-work';

/** Earlier attempts, and handing in another one. */
export function HandInPanel({ lab }: { lab: StudentLabView }) {
  /** The id of the hand-in that is asked about; pressing again after a lost answer sends the same. */
  const [id, setId] = useState(newId);
  const [asking, setAsking] = useState(false);
  const [drawing, plan] = [useOwnDrawing(lab).data?.document, useOwnPlan(lab).data?.document];
  const handIn = useChange(
    async () => {
      await sendWork(lab, 'Nothing was handed in.');
      const done = await api('POST my/labs/:id/hand-in', { id: lab.id }, { handIn: id, drawing: lab.documentId }).catch(
        (error: unknown) => {
          throw error instanceof ApiError && error.status === 0 ? new ApiError(0, UNKNOWN) : error;
        },
      );
      setId(newId());
      return done;
    },
    ['my-lab', lab.id],
    ['courses'],
    ['document', lab.documentId],
  );
  const choose = useChange(
    (attempt: string) => api('PUT my/labs/:id/counting', { id: lab.id }, { attempt, drawing: lab.documentId }),
    ['my-lab', lab.id],
    ['courses'],
  );
  const { used, allowed } = lab.attempts;
  const hidden = hiddenWords(lab);
  const left = allowed === null ? null : allowed - used;
  const isEmpty = drawing && plan && [drawing.devices, plan.blocks].every((map) => !Object.keys(map).length);
  return (
    <Panel title="Handing in" aside={left === null ? 'any number of attempts' : `${plural(left, 'attempt')} left`}>
      <Box sx={{ p: 1.5 }}>
        {lab.submissions.map((submission) => (
          <Stack
            key={submission.id}
            direction="row"
            sx={{ justifyContent: 'space-between', alignItems: 'center', py: 0.5 }}
          >
            <MuiLink component={Link} to={`/my/labs/${lab.id}/attempts/${submission.id}`}>
              Attempt {submission.attempt}, {whenIn(lab.timeZone, submission.handedInAt)}
              {submission.late && ', late'}
              {submission.counts && lab.submissions.length > 1 && ', counts'}
            </MuiLink>
            <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
              {lab.counts === 'chosen' && !submission.counts && (
                <Button
                  size="small"
                  aria-label={`Let it count: attempt ${submission.attempt}`}
                  disabled={choose.isPending}
                  onClick={() => choose.mutate(submission.id)}
                  sx={{ minHeight: 24, py: 0 }}
                >
                  Let it count
                </Button>
              )}
              <b className="mono">{attemptWords(lab, submission)}</b>
            </Stack>
          </Stack>
        ))}
        {lab.submissions.length > 0 && hidden !== null && (
          <Typography variant="body2" color="text.secondary" sx={{ py: 0.5 }}>
            {hidden}
          </Typography>
        )}
        {allowed !== 1 && (
          <Typography variant="body2" color="text.secondary" sx={{ py: 0.5 }}>
            {COUNTS[lab.counts]}
          </Typography>
        )}
        {handIn.data && (
          <Typography role="status" sx={{ color: 'var(--spruce)', py: 0.5 }}>
            Attempt {handIn.data.attempt} is handed in{handIn.data.late ? ', late' : ''}.
          </Typography>
        )}
        <Button
          variant="contained"
          sx={{ mt: 1 }}
          disabled={handIn.isPending || left === 0}
          onClick={() => setAsking(true)}
        >
          {left === 0 ? 'All attempts are used' : `Hand in attempt ${used + 1}`}
        </Button>
        {choose.isError && <Failure error={choose.error} />}
        {handIn.isError && (
          <Box sx={{ mt: 1 }}>
            <Failure error={handIn.error} />
          </Box>
        )}
      </Box>
      <AskDialog
        open={asking}
        title={isEmpty ? 'Nothing is drawn or planned. Hand in an empty sheet?' : `Hand in attempt ${used + 1}?`}
        yes={isEmpty ? 'Hand in the empty sheet' : 'Hand in'}
        onClose={() => setAsking(false)}
        onYes={() => !handIn.isPending && handIn.mutate(undefined)}
      >
        {isEmpty && `It is attempt ${used + 1}, with a drawing without devices and a plan without blocks. `}
        Your drawing, plan, answers and files are handed in as they are now. This cannot be taken back
        {left === null
          ? '.'
          : left > 1
            ? `, but ${left - 1} more ${left === 2 ? 'attempt is' : 'attempts are'} left after it.`
            : ', and it is your last attempt.'}
      </AskDialog>
    </Panel>
  );
}

const COUNTS: Readonly<Record<StudentLabView['counts'], string>> = {
  last: 'Of several attempts the last one counts.',
  best: 'Of several attempts the best one counts.',
  chosen: 'Of several attempts the one counts that you choose, else the last.',
};
const UNKNOWN =
  'Sobrin’s server does not answer, so it is not known whether this attempt arrived. Press again when it does: the attempt is handed in once.';
