import { Box } from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { type Plan } from '@sobrin/core/plan';
import { type Topology } from '@sobrin/core/topology';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode } from 'react';
import { readDrawing, readPlan } from '../api/documents';
import { type PartStore, useLabPart } from '../lab/lab-part';
import { Failure, Waiting } from '../ui/states';

/** What a spec is written from, and the parts that are written. */
export interface SpecParts {
  readonly reference: Topology;
  readonly starter: Topology | undefined;
  readonly plan: Plan;
  readonly store: PartStore<'spec'>;
  readonly tasksStore: PartStore<'tasks'>;
  /** What could not be kept of an earlier visit. */
  readonly lost: string | null;
}

/** Loads what a spec is written from. */
export function WithSpec({ lab, children }: { lab: LabView; children: (parts: SpecParts) => ReactNode }) {
  const reference = useQuery({
    queryKey: ['document', lab.referenceId],
    queryFn: () => readDrawing(lab.referenceId),
    staleTime: 0,
    gcTime: 0,
  });
  const plan = useQuery({
    queryKey: ['document', lab.planId],
    queryFn: () => readPlan(lab.planId),
    staleTime: 0,
    gcTime: 0,
  });
  const { starterId } = lab;
  const starter = useQuery({
    queryKey: ['document', starterId],
    queryFn: () => readDrawing(starterId!),
    enabled: starterId !== null,
  });
  const spec = useLabPart(lab.id, 'spec', lab.documents.spec);
  const tasks = useLabPart(lab.id, 'tasks', lab.documents.tasks);
  if (
    reference.isPending ||
    plan.isPending ||
    spec.isPending ||
    tasks.isPending ||
    (starterId !== null && starter.isPending)
  )
    return <Waiting what="Loading the spec" />;
  if (reference.isError || plan.isError || spec.isError || tasks.isError || starter.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure
          error={reference.error ?? plan.error ?? spec.error ?? tasks.error ?? starter.error}
          onAgain={() =>
            void Promise.all([
              reference.refetch(),
              plan.refetch(),
              spec.refetch(),
              tasks.refetch(),
              starterId !== null && starter.refetch(),
            ])
          }
        />
      </Box>
    );
  return children({
    reference: reference.data.document,
    starter: starter.data?.document,
    plan: plan.data.document,
    store: spec.data.store,
    tasksStore: tasks.data.store,
    lost: spec.data.lost,
  });
}
