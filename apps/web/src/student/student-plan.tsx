import { Box, Button } from '@mui/material';
import { IconArrowLeft } from '@tabler/icons-react';
import { type StudentLabView } from '@sobrin/contracts';
import { Link } from 'react-router';
import { PlanDesk } from '../plan/plan-desk';
import { PlanProvider, useOpenPlan } from '../plan/use-plan';
import { Opened } from '../ui/opened';
import { WithLab } from './with-lab';
import { usePageTitle } from '../ui/announce';
import { PAGE } from '../ui/frame';

/** A student's own address plan for a lab. */
export const StudentPlan = () => <WithLab>{(lab) => <OwnPlan lab={lab} />}</WithLab>;

function OwnPlan({ lab }: { lab: StudentLabView }) {
  usePageTitle('Your plan', lab.title);
  const plan = useOpenPlan(lab.planId);
  return (
    <Opened query={plan} what="Opening your plan">
      {({ store, lost }) => (
        <Box component="main" sx={PAGE}>
          <PlanProvider
            store={store}
            setting={{
              brief: lab.brief,
              title: lab.title,
              // Sizes and mistakes are what is to be learned: only a coaching lab shows them, and none lays the plan out.
              showsResults: lab.bench === 'coach',
              laysOut: false,
              drawingId: lab.documentId,
              sharedId: null,
            }}
          >
            <PlanDesk under={`${lab.courseTitle} · your plan`} lost={lost}>
              <Button
                size="small"
                variant="outlined"
                component={Link}
                to={`/my/labs/${lab.id}`}
                startIcon={<IconArrowLeft size={16} />}
              >
                Tasks
              </Button>
            </PlanDesk>
          </PlanProvider>
        </Box>
      )}
    </Opened>
  );
}
