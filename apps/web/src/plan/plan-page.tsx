import { readAnew } from '../api/queries';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useShownLab } from '../lab/lab-shell';
import { Opened } from '../ui/opened';
import { type PlanStore } from './plan-store';
import { PlanDesk } from './plan-desk';
import { PlanProvider, useOpenPlan } from './use-plan';
import { usePageTitle } from '../ui/announce';

/** The address plan of a lab. */
export function PlanPage() {
  const lab = useShownLab();
  usePageTitle('Plan', lab.title);
  const plan = useOpenPlan(lab.planId);
  useFreshRail(lab.id, plan.data?.store ?? null);
  return (
    <Opened query={plan} what="Opening the plan">
      {({ store, lost }) => (
        <PlanProvider
          key={lab.planId}
          store={store}
          setting={{
            brief: lab.brief,
            title: lab.title,
            showsResults: true,
            laysOut: true,
            drawingId: lab.referenceId,
            sharedId: lab.planId,
          }}
        >
          <PlanDesk under={`${lab.courseTitle} · plan${lab.mayEdit ? '' : ', to be read'}`} lost={lost} />
        </PlanProvider>
      )}
    </Opened>
  );
}

/** The rail tells how far the plan is: it is told anew when a change has reached the server. */
function useFreshRail(labId: string, store: PlanStore | null): void {
  const client = useQueryClient();
  useEffect(
    () =>
      store?.subscribe(({ save }, before) => {
        if (save.kind === 'saved' && before.save.kind !== 'saved') void readAnew(client, ['lab', labId]);
      }),
    [client, labId, store],
  );
}
