import { Box } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useShownLab } from '../lab/lab-shell';
import { Failure, Waiting } from '../ui/parts';
import { type PlanStore } from './plan-store';
import { PlanDesk } from './plan-desk';
import { PlanProvider, useOpenPlan } from './use-plan';

/** The address plan of a lab. */
export function PlanPage() {
  const lab = useShownLab();
  const plan = useOpenPlan(lab.planId);
  useFreshRail(lab.id, plan.data?.store ?? null);
  if (plan.isPending) return <Waiting what="Opening the plan" />;
  if (plan.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={plan.error} onAgain={() => void plan.refetch()} />
      </Box>
    );
  return (
    <PlanProvider
      key={lab.planId}
      store={plan.data.store}
      setting={{ brief: lab.brief, title: lab.title, tells: true, laysOut: true, drawingId: lab.referenceId }}
    >
      <PlanDesk under={`${lab.courseTitle} · plan`} lost={plan.data.lost} />
    </PlanProvider>
  );
}

/** The rail tells how far the plan is: it is told anew when a change has reached the server. */
function useFreshRail(labId: string, store: PlanStore | null): void {
  const client = useQueryClient();
  useEffect(
    () =>
      store?.subscribe(({ save }, before) => {
        if (save.kind === 'saved' && before.save.kind !== 'saved')
          void client.invalidateQueries({ queryKey: ['lab', labId] });
      }),
    [client, labId, store],
  );
}
