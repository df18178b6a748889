import { Alert, Box, Button, Stack, Typography } from '@mui/material';
import { IconArrowBackUp, IconArrowForwardUp, IconCheck, IconPlus } from '@tabler/icons-react';
import { type LabView } from '@sobrin/contracts';
import { type Plan, type Spec, type Topology } from '@sobrin/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { api } from '../api/client';
import { readDrawing, readPlan } from '../api/documents';
import { type PartStore, createPartStore } from '../lab/part-store';
import { useShownLab } from '../lab/lab-shell';
import { IconTool } from '../ui/icon-tool';
import { Empty, Failure, TopBar, Waiting, points } from '../ui/parts';
import { GroupsPanel } from './groups-panel';
import { KindDialog } from './kind-dialog';
import { SectionPanel } from './section-panel';
import { addRequirement, addSection, pointsOf } from './spec-editor';
import { wordsOfSpec } from './spec-words';
import { useReferenceCheck } from './use-reference-check';

/** The spec: readable sentences with points, in sections, edited in place. */
export function SpecPage() {
  const lab = useShownLab();
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
  if (reference.isPending || plan.isPending) return <Waiting what="Loading the spec" />;
  if (reference.isError || plan.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure
          error={reference.error ?? plan.error}
          onAgain={() => void Promise.all([reference.refetch(), plan.refetch()])}
        />
      </Box>
    );
  return <SpecDesk lab={lab} reference={reference.data.document} plan={plan.data.document} />;
}

function SpecDesk({ lab, reference, plan }: { lab: LabView; reference: Topology; plan: Plan }) {
  const client = useQueryClient();
  const [store, setStore] = useState<PartStore<Spec>>(() => storeFor(lab));
  function storeFor(from: LabView): PartStore<Spec> {
    return createPartStore({ value: from.spec, revision: from.revision }, async (base, spec) => {
      const next = await api('PATCH labs/:id', { id: from.id }, { base, spec });
      client.setQueryData(['lab', from.id], next);
      for (const key of ['class', 'results', 'submission']) void client.invalidateQueries({ queryKey: [key] });
      return next;
    });
  }
  const { value: spec, past, future, save, change, undo, redo, again } = useStore(store);
  const words = useMemo(() => wordsOfSpec(spec, reference, plan, lab), [spec, reference, plan, lab]);
  const checked = useMemo(
    () => (save.kind === 'refused' ? null : { reference, spec, policy: lab.policy, brief: lab.brief, plan }),
    [reference, spec, lab.policy, lab.brief, plan, save.kind],
  );
  const check = useReferenceCheck(checked);
  const [adding, setAdding] = useState<string | null>(null);
  const total = spec.sections.reduce((sum, section) => sum + pointsOf(section), 0);
  const count = spec.sections.reduce((sum, section) => sum + section.requirements.length, 0);
  const problems = save.kind === 'refused' ? save.problems : lab.specProblems;
  const reload = async (): Promise<void> => {
    const fresh = await client.fetchQuery({
      queryKey: ['lab', lab.id],
      queryFn: () => api('GET labs/:id', { id: lab.id }),
      staleTime: 0,
    });
    setStore(storeFor(fresh));
  };
  return (
    <>
      <TopBar title={lab.title} under={`${lab.courseTitle} · spec`}>
        {check && (
          <Typography sx={{ color: check.points < check.of ? 'var(--ochre-text)' : 'var(--ink2)' }}>
            The reference earns <b className="mono">{points(check.points)}</b> of{' '}
            <b className="mono">{points(check.of)}</b>
          </Typography>
        )}
        <IconTool title="Undo" disabled={!past.length} onClick={undo}>
          <IconArrowBackUp size={18} />
        </IconTool>
        <IconTool title="Redo" disabled={!future.length} onClick={redo}>
          <IconArrowForwardUp size={18} />
        </IconTool>
        <Box
          role="status"
          sx={{
            fontSize: 12,
            color: save.kind === 'refused' || save.kind === 'offline' ? 'var(--brick)' : 'var(--ink2)',
            width: 72,
            display: 'flex',
            gap: 0.5,
            alignItems: 'center',
          }}
        >
          {save.kind === 'saved' && <IconCheck size={15} />}
          {save.kind === 'saved' ? 'Saved' : save.kind === 'saving' ? 'Saving' : 'Not saved'}
        </Box>
      </TopBar>
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Box sx={{ flex: 1, overflow: 'auto', p: 2 }}>
          <Stack spacing={2} sx={{ maxWidth: 900, mx: 'auto', pb: 6 }}>
            {save.kind === 'refused' && (
              <Alert
                severity="error"
                variant="outlined"
                action={save.stale && <Button onClick={() => void reload()}>Load the newer spec</Button>}
              >
                {save.text}
                {problems.length > 0 &&
                  ` ${problems.length === 1 ? 'The place is marked' : `The ${problems.length} places are marked`} below.`}
              </Alert>
            )}
            {save.kind === 'offline' && (
              <Alert severity="warning" action={<Button onClick={again}>Try now</Button>}>
                {save.text}
              </Alert>
            )}
            {spec.sections.length === 0 && (
              <Empty
                title="No requirement yet"
                action={
                  <Button variant="contained" onClick={() => change(addSection(spec, 'Components'))}>
                    Add the first section
                  </Button>
                }
              >
                A spec says in sentences what must be there, how it must be cabled and addressed, and who must reach
                whom, each with points.
              </Empty>
            )}
            {spec.sections.map((section, at) => (
              <SectionPanel
                key={section.id}
                spec={spec}
                section={section}
                nth={at + 1}
                words={words}
                check={check}
                problems={problems}
                onChange={change}
                onAdd={() => setAdding(section.id)}
              />
            ))}
            {spec.sections.length > 0 && (
              <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
                <Button startIcon={<IconPlus size={14} />} onClick={() => change(addSection(spec, 'New section'))}>
                  Add a section
                </Button>
                <Typography>
                  {count} requirements, <b className="mono">{points(total)}</b> points
                </Typography>
              </Stack>
            )}
          </Stack>
        </Box>
        <GroupsPanel spec={spec} reference={reference} onChange={change} />
      </Box>
      <KindDialog
        open={adding !== null}
        title="What must hold?"
        onClose={() => setAdding(null)}
        onChoose={(kind) => {
          if (adding)
            change(
              addRequirement(
                spec,
                adding,
                kind,
                words.sites.map((site) => site.id),
              ).spec,
            );
          setAdding(null);
        }}
      />
    </>
  );
}
