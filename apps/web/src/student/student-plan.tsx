import { Box, Button } from '@mui/material';
import { IconArrowLeft } from '@tabler/icons-react';
import { type StudentLabView } from '@sobrin/contracts';
import { Link, useParams } from 'react-router';
import { useMyLab } from '../api/queries';
import { PlanDesk } from '../plan/plan-desk';
import { PlanProvider, useOpenPlan } from '../plan/use-plan';
import { Failure, Waiting } from '../ui/parts';

/** A student's own address plan for a lab. */
export function StudentPlan() {
  const { labId } = useParams();
  const lab = useMyLab(labId!);
  if (lab.isPending) return <Waiting what="Opening the lab" />;
  if (lab.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={lab.error} onAgain={() => void lab.refetch()} />
      </Box>
    );
  return <OpenPlan lab={lab.data} />;
}

function OpenPlan({ lab }: { lab: StudentLabView }) {
  const plan = useOpenPlan(lab.planId);
  if (plan.isPending) return <Waiting what="Opening your plan" />;
  if (plan.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={plan.error} onAgain={() => void plan.refetch()} />
      </Box>
    );
  return (
    <Box component="main" sx={{ height: '100%' }}>
      <PlanProvider
        store={plan.data.store}
        setting={{
          brief: lab.brief,
          title: lab.title,
          // Sizes and mistakes are what is to be learned: only a coaching lab tells them, and none lays the plan out.
          tells: lab.bench === 'coach',
          laysOut: false,
          drawingId: lab.documentId,
        }}
      >
        <PlanDesk under={`${lab.courseTitle} · your plan`} lost={plan.data.lost}>
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
  );
}
