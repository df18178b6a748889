import { Alert, Button } from '@mui/material';
import { IconArrowLeft } from '@tabler/icons-react';
import { type LookInView } from '@sobrin/contracts';
import { optionsOf } from '@sobrin/core/engine';
import { Link, useParams } from 'react-router';
import { useLookIn } from '../api/queries';
import { Bench } from '../bench/bench';
import { PlanProvider } from '../bench/plan-of-lab';
import { BenchProvider, useOpenBench } from '../bench/use-bench';
import { ReadOnlyProvider, SpeaksAsProvider } from '../documents/read-only';
import { useShownLab } from '../lab/lab-shell';
import { Opened } from '../ui/opened';
import { usePageTitle } from '../ui/announce';
import { Key } from '../ui/keys/key';

/** What a student draws, before it is handed in: to be looked at and commented on, where the lab allows it. */
export function LookInPage() {
  const { studentId } = useParams();
  const lab = useShownLab();
  const found = useLookIn(lab.id, studentId!);
  return (
    <Opened query={found} what="Opening the drawing">
      {(looked) => (
        <ReadOnlyProvider value={`This is the drawing of ${looked.student}: you can look at it and comment on it.`}>
          <SpeaksAsProvider value={looked.speaksAs}>
            <LookedAt looked={looked} />
          </SpeaksAsProvider>
        </ReadOnlyProvider>
      )}
    </Opened>
  );
}

function LookedAt({ looked: { student, documentId, planId } }: { looked: LookInView }) {
  const lab = useShownLab();
  usePageTitle(student, 'Drawing', lab.title);
  const bench = useOpenBench(documentId);
  return (
    <Opened query={bench} what="Opening the drawing">
      {({ store, lost }) => (
        <BenchProvider store={store} id={documentId}>
          <Alert severity="info" sx={{ borderRadius: 0, py: 0 }}>
            The drawing of {student} as it is now, before it is handed in. {student} sees that you have it open. Choose
            something and press <Key id="comment" keys="C" /> to comment.
          </Alert>
          <PlanProvider planId={planId} brief={lab.brief}>
            <Bench
              title={student}
              under={lab.title}
              help="coach"
              automatic
              equipment={optionsOf(lab.policy)}
              lost={lost}
            >
              <Button
                variant="outlined"
                component={Link}
                to={`/labs/${lab.id}/class`}
                startIcon={<IconArrowLeft size={16} />}
              >
                Class
              </Button>
            </Bench>
          </PlanProvider>
        </BenchProvider>
      )}
    </Opened>
  );
}
