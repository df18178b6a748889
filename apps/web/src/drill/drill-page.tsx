import { Alert, Box, Button, LinearProgress, Stack, Typography } from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { type Drill, type DrilledLab, type Spec, scoreOf, specHash, withProposals } from '@sobrin/core/spec';
import { IconArrowLeft } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { useStore } from 'zustand';
import { useKeeping } from '../documents/open-document';
import { SaveSign } from '../documents/tools';
import { Drawing } from '../drawing/drawing';
import { setPart } from '../lab/lab-part';
import { useShownLab } from '../lab/lab-shell';
import { PartTrouble } from '../lab/part-trouble';
import { type SpecParts, WithSpec } from '../spec/with-spec';
import { announce, usePageTitle } from '../ui/announce';
import { DESK, IF_NARROW } from '../ui/frame';
import { Key } from '../ui/keys/key';
import { useShortcuts } from '../ui/keys/shortcuts';
import { Empty, Failure } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { Alarms } from './alarms';
import { DrillScore } from './drill-score';
import { faultsWith, missedByKind, watchedMarks } from './findings';
import { MissedList } from './missed-list';
import { ProposalCard } from './proposal-card';
import { useDrill } from './use-drill';
import { useGrown } from './use-grown';

const LENSES = { ends: false, subnets: false, cables: false };

/** What the spec of a lab would notice of known mistakes, what it would miss, and where it would be unfair. */
export function DrillPage() {
  const lab = useShownLab();
  usePageTitle('Drill', lab.title);
  return <WithSpec lab={lab}>{(parts) => <Desk lab={lab} parts={parts} />}</WithSpec>;
}

function Desk({ lab, parts }: { lab: LabView; parts: SpecParts }) {
  const { reference, starter, plan, store, tasksStore } = parts;
  useKeeping(store);
  const state = useStore(store);
  const { document: spec } = state;
  const { tasks } = useStore(tasksStore).document;
  const { policy, brief } = lab;
  const drilled = (now: Spec): DrilledLab => ({
    reference,
    spec: now,
    policy,
    brief,
    plan,
    tasks: [...tasks],
    ...(starter && { starter }),
  });
  const drill = useDrill(lab.id, drilled(spec));
  const { found, isRunning, done, of, trouble, isStale } = drill;
  const hash = useMemo(
    () => specHash({ reference, spec, policy, brief, tasks: [...tasks], ...(starter && { starter }) }),
    [reference, spec, policy, brief, tasks, starter],
  );
  useShortcuts([{ id: 'end-drill', text: 'End the drill', keys: 'Esc', off: !isRunning, run: drill.cancel }]);
  return (
    <>
      <TopBar title={lab.title} under={`${lab.courseTitle} · spec · drill`}>
        <Button component={Link} to={`/labs/${lab.id}/spec`} startIcon={<IconArrowLeft size={16} />}>
          Spec
        </Button>
        {isRunning ? (
          <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center' }}>
            <Typography variant="body2" sx={{ whiteSpace: 'nowrap' }}>
              {done} of {of || '…'} drawings tried; it goes on when you leave
            </Typography>
            <LinearProgress
              aria-label="Drawings tried"
              variant={of ? 'determinate' : 'indeterminate'}
              value={of ? (100 * done) / of : 0}
              sx={{ width: 160 }}
            />
            <Button variant="outlined" onClick={drill.cancel} sx={{ gap: 0.75 }}>
              Cancel <Key id="end-drill" keys="Esc" />
            </Button>
          </Stack>
        ) : (
          <Button
            variant={found && !isStale ? 'outlined' : 'contained'}
            disabled={!spec.sections.length}
            onClick={drill.start}
          >
            {found ? 'Drill again' : 'Drill the spec'}
          </Button>
        )}
        <SaveSign save={state.save.kind} />
      </TopBar>
      <PartTrouble part={state} what="spec" />
      {trouble !== null && <Alert severity="error">{trouble}</Alert>}
      {isStale && (
        <Alert severity="info" variant="outlined" sx={{ m: 1, mb: 0 }}>
          The lab has changed since this drill: drill again to see what it notices now.
        </Alert>
      )}
      {found ? (
        <Found
          lab={lab}
          found={found}
          taken={drill.taken}
          parts={parts}
          spec={spec}
          hash={hash}
          isFresh={!isStale && !isRunning}
          onTake={(id) => {
            const proposal = found.proposals.find((each) => each.id === id)!;
            const draft = { groups: found.groups, faults: [], noticed: [], proposals: [] };
            const next = withProposals(spec, draft, [{ ...proposal, why: '' }]);
            setPart(store, 'take a proposal of the drill', next);
            drill.take(id, drilled(next));
            announce(`In the spec now: ${proposal.sentence}`);
          }}
          onMeant={(way, requirement) => {
            const next = { ...spec, meant: [...(spec.meant ?? []), { way, requirement }] };
            setPart(store, 'say that it is meant so', next);
            drill.says(drilled(next));
          }}
        />
      ) : isRunning ? (
        <Empty title="The spec is drilled">
          Known mistakes are planted in the reference, one after another. What comes of it stands here in a moment.
        </Empty>
      ) : (
        <Empty
          title={spec.sections.length ? 'Not drilled yet' : 'There is no spec to drill yet'}
          action={
            spec.sections.length ? (
              <Button variant="contained" onClick={drill.start}>
                Drill the spec
              </Button>
            ) : (
              <Button variant="contained" component={Link} to={`/labs/${lab.id}/spec`}>
                To the spec
              </Button>
            )
          }
        >
          A drill plants known mistakes in the reference, one after another, and shows which of them the spec notices.
          It draws the same network otherwise, too, and shows where a right drawing would lose points.
        </Empty>
      )}
    </>
  );
}

function Found({
  lab,
  found,
  taken,
  parts: { reference },
  spec,
  hash,
  isFresh,
  onTake,
  onMeant,
}: {
  lab: LabView;
  found: Drill;
  taken: ReadonlySet<string>;
  parts: SpecParts;
  spec: Spec;
  /** Of what judges, of the lab that was drilled with what was taken since. */
  hash: string;
  isFresh: boolean;
  onTake: (proposal: string) => void;
  onMeant: (way: string, requirement: string) => void;
}) {
  const faults = useMemo(() => faultsWith(found, taken), [found, taken]);
  const kinds = useMemo(() => missedByKind(faults), [faults]);
  const score = useMemo(() => scoreOf(faults), [faults]);
  const { drills, error } = useGrown(lab, faults, score.all, isFresh ? hash : null);
  const [dismissed, setDismissed] = useState<ReadonlySet<string>>(new Set());
  const order = kinds.flatMap(({ list }) => list.map(({ at }) => at));
  const [chosen, setChosen] = useState<number | null>(null);
  const canMend = (at: number): boolean =>
    found.proposals.some(({ id, notices }) => notices.includes(at) && !taken.has(id) && !dismissed.has(id));
  // One begins where something can be done.
  const at = chosen !== null && order.includes(chosen) ? chosen : (order.find(canMend) ?? order[0] ?? null);
  const proposals = found.proposals.filter(
    ({ id, notices }) => at !== null && notices.includes(at) && !taken.has(id) && !dismissed.has(id),
  );
  const [proposal] = proposals;
  const step = (by: number): void => {
    const next = order[Math.max(0, Math.min(order.length - 1, order.indexOf(at ?? -1) + by))];
    if (next !== undefined) setChosen(next);
  };
  const dismiss = (): void => {
    if (proposal) setDismissed(new Set([...dismissed, proposal.id]));
  };
  const take = (): void => {
    if (proposal && lab.mayEdit) onTake(proposal.id);
  };
  useShortcuts([
    {
      id: 'miss',
      text: 'Miss after or before',
      keys: ['ArrowDown', 'ArrowUp'],
      butIn: '.react-flow__node',
      off: !order.length,
      run: (chord) => step(chord === 'ArrowDown' ? 1 : -1),
    },
    { id: 'take-proposal', text: 'Take the proposal', keys: 'P', off: !proposal || !lab.mayEdit, run: take },
    { id: 'dismiss-proposal', text: 'Not meant', keys: 'X', off: !proposal, run: dismiss },
  ]);
  const marks = useMemo(() => {
    const all = watchedMarks(faults, reference);
    const here = at === null ? undefined : faults[at]?.places[0]?.device?.split('/')[0];
    return { ...all, here };
  }, [faults, reference, at]);
  return (
    <Box sx={DESK}>
      {error && <Failure error={error} />}
      <DrillScore faults={faults} score={score} found={found} spec={spec} drills={drills} />
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', overflow: 'auto' }}>
        <Box
          component="section"
          aria-label="What the spec watches"
          sx={{ flex: '1 1 260px', minHeight: 220, display: 'flex', flexDirection: 'column' }}
        >
          <Stack
            direction="row"
            sx={{
              px: 2,
              minHeight: 36,
              alignItems: 'center',
              justifyContent: 'space-between',
              borderBottom: '1px solid var(--line)',
            }}
          >
            <Typography variant="h3" component="h2">
              What the spec watches
            </Typography>
            <Typography variant="body2" color="text.secondary">
              3/4: mistakes noticed, of those planted there
            </Typography>
          </Stack>
          <Box sx={{ flex: 1, minHeight: 0, position: 'relative' }}>
            <Drawing
              topology={reference}
              label="What the spec watches"

              lenses={LENSES}
              marks={marks}
            />
          </Box>
        </Box>
        <Box
          sx={{
            flex: '0 0 340px',
            minHeight: 0,
            display: 'flex',
            borderTop: '1px solid var(--line2)',
            [IF_NARROW]: { flexDirection: 'column', flex: 'none' },
          }}
        >
          <MissedList
            kinds={kinds}
            chosen={at}
            proposals={found.proposals}
            dismissed={dismissed}
            onChoose={setChosen}
          />
          <ProposalCard
            fault={at === null ? null : faults[at]!}
            proposal={proposal ?? null}
            faults={faults}
            score={score.all}
            mayEdit={lab.mayEdit}
            onTake={take}
            onDismiss={dismiss}
          />
          <Alarms found={found} spec={spec} mayEdit={lab.mayEdit} onMeant={onMeant} />
        </Box>
      </Box>
    </Box>
  );
}
