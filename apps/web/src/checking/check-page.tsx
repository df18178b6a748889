import { Box } from '@mui/material';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { type Topology } from '@sobrin/core/topology';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api } from '../api/client';
import { readDrawing } from '../api/documents';
import { useChange, useClassRows, useSubmission } from '../api/queries';
import { useShownLab } from '../lab/lab-shell';
import { Failure, Waiting } from '../ui/states';
import { useShortcuts } from '../ui/keys/shortcuts';
import { CheckHeader } from './check-header';
import { FindingsDesk } from './findings-desk';
import { useComments } from './use-comments';
import { useDecisions } from './use-decisions';
import { announce, usePageTitle } from '../ui/announce';
import { counted } from '../ui/mark-words';
import { points } from '../ui/words';

/** One submission: requirements at the left, the student's drawing in the middle, evidence below, the reference beside. */
export function CheckPage() {
  const { submissionId } = useParams();
  const lab = useShownLab();
  const submission = useSubmission(submissionId!);
  const reference = useQuery({
    queryKey: ['document', lab.referenceId],
    queryFn: () => readDrawing(lab.referenceId),
  });
  if (submission.isPending || reference.isPending) return <Waiting what="Loading the submission" />;
  if (submission.isError || reference.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure
          error={submission.error ?? reference.error}
          onAgain={() => void Promise.all([submission.refetch(), reference.refetch()])}
        />
      </Box>
    );
  return <CheckDesk key={submissionId} lab={lab} submission={submission.data} reference={reference.data.document} />;
}

function CheckDesk({ lab, submission, reference }: { lab: LabView; submission: SubmissionView; reference: Topology }) {
  const navigate = useNavigate();
  const rows = useClassRows(lab.id);
  const check = useChange(
    () => api('POST submissions/:id/check', { id: submission.id }),
    ['submission', submission.id],
    ['class', lab.id],
    ['results', lab.id],
    ['lab', lab.id],
    ['courses'],
  );
  const decisions = useDecisions(submission, lab.teaches);
  const comments = useComments(submission, lab.teaches);
  const handedIn = rows.data?.filter((row) => row.submissionId !== null) ?? [];
  const at = handedIn.findIndex((row) => row.studentId === submission.student.id);
  const goto = (by: number): void => {
    const next = handedIn[at + by];
    if (next) void navigate(`/labs/${lab.id}/class/${next.submissionId}`, { replace: true });
  };
  const { result, penalty } = submission;
  const { name } = submission.student;
  usePageTitle(name, 'Check', lab.title);
  const mark = result && `${points(counted({ points: result.points, penalty }))} of ${points(result.of)} points`;
  useEffect(() => {
    if (mark !== null) announce(`${name}: ${mark}`);
  }, [name, mark]);
  useShortcuts([
    { id: 'next-student', text: 'Next student', keys: 'J', run: () => goto(1) },
    { id: 'student-before', text: 'Student before', keys: 'K', run: () => goto(-1) },
  ]);
  useEffect(() => {
    // Opening a submission that was never checked checks it: nobody comes here for an empty page.
    if (!result && check.isIdle) check.mutate(undefined);
  }, [result, check]);
  return (
    <>
      <CheckHeader
        lab={lab}
        submission={submission}
        at={at}
        count={handedIn.length}
        onGoto={goto}
        isChecking={check.isPending}
        onCheck={() => check.mutate(undefined)}
        onAttempt={(id) => void navigate(`/labs/${lab.id}/class/${id}`, { replace: true })}
      />
      {(check.error ?? decisions.error ?? comments.error) && (
        <Box sx={{ p: 1 }}>
          <Failure error={check.error ?? decisions.error ?? comments.error} />
        </Box>
      )}
      {result ? (
        <FindingsDesk
          result={result}
          submission={submission}
          reference={reference}
          policy={lab.policy}
          brief={lab.brief}
          planId={lab.planId}
          decisions={decisions}
          comments={comments}
        />
      ) : (
        <Waiting what="Checking the submission" />
      )}
    </>
  );
}
