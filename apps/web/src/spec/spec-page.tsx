import { readAnew } from '../api/queries';
import { Alert, Box, Button, Stack, Typography } from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import {
  type Doubt,
  type Requirement,
  type Rule,
  type Spec,
  type TypedRule,
  firstRule,
  requirementWords,
  sentenceOf,
  toldOf,
} from '@sobrin/core/spec';
import { IconCopyPlus, IconFileText, IconListCheck, IconTargetArrow } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { Link, useLocation } from 'react-router';
import { useStore } from 'zustand';
import { useKeeping } from '../documents/open-document';
import { Others, lineOfLab } from '../documents/others';
import { HistoryTools, SaveSign } from '../documents/tools';
import { type PartStore, setPart } from '../lab/lab-part';
import { useShownLab } from '../lab/lab-shell';
import { PartTrouble } from '../lab/part-trouble';
import { VersionStrip } from '../lab/version-strip';
import { AddButton } from '../ui/add-button';
import { lazyPart } from '../ui/lazy-part';
import { BODY, DESK } from '../ui/frame';
import { SortableLists } from '../ui/sortable-list';
import { Empty } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { points } from '../ui/words';
import { Key } from '../ui/keys/key';
import { historyKeys, useShortcuts } from '../ui/keys/shortcuts';
import { ChosenBar } from './chosen-bar';
import { DraftPanel } from './draft-panel';
import { GroupsPanel } from './groups-panel';
import { KindDialog } from './kind-dialog';
import { OtherLabDialog } from './other-lab-dialog';
import { SectionPanel, sortedList } from './section-panel';
import { type RowActions } from './requirement-row';
import {
  addRequirement,
  addSection,
  copyRequirement,
  moveRequirement,
  pointsOf,
  removeAll,
  removeRequirement,
  setRequirement,
} from './spec-editor';
import { wordsOfSpec } from './spec-words';
import { type SpecParts, WithSpec } from './with-spec';
import { useChosen } from './use-chosen';
import { useReferenceCheck } from './use-reference-check';
import { announce, usePageTitle } from '../ui/announce';
import { useStable } from '../ui/use-stable';

const SpecText = lazyPart(() => import('./spec-text'));

/** The spec: readable sentences with points, in sections, edited in place. */
export function SpecPage() {
  const lab = useShownLab();
  usePageTitle('Spec', lab.title);
  return <WithSpec lab={lab}>{(parts) => <SpecDesk lab={lab} {...parts} />}</WithSpec>;
}

function SpecDesk({ lab, reference, starter, plan, store, tasksStore, lost }: SpecParts & { lab: LabView }) {
  useKeeping(store);
  useKeeping(tasksStore);
  useFreshResults(lab.id, store);
  const state = useStore(store);
  const { document: spec } = state;
  const { hash } = useLocation();
  useEffect(() => {
    // Who comes from a finding wants its requirement, at its first word that can be chosen.
    const row =
      hash && document.querySelector<HTMLElement>(`[data-requirement="${CSS.escape(decodeURI(hash.slice(1)))}"]`);
    if (!row) return;
    row.scrollIntoView?.({ block: 'center' });
    row.querySelector<HTMLElement>('.slot, input')?.focus({ preventScroll: true });
  }, [hash]);
  const change = (next: Spec): void => void setPart(store, 'change the spec', next);
  const { tasks } = useStore(tasksStore).document;
  const { brief, policy, starterId } = lab;
  const edit = useStable((next: (spec: Spec) => Spec): void => change(next(store.getState().document)));
  const begin = useCallback(
    (kind: string): Rule =>
      firstRule(kind, { spec: store.getState().document, reference, brief, policy, tasks: [...tasks] }),
    [store, reference, brief, policy, tasks],
  );
  const { groups } = spec;
  const words = useMemo(
    () => wordsOfSpec(groups, reference, plan, { brief, tasks, starterId, policy }, begin),
    [groups, reference, plan, brief, tasks, starterId, policy, begin],
  );
  // Where each is told is read after what was changed is there to be seen.
  const seen = useDeferredValue(spec);
  const { of: told, idle } = useMemo(
    () => toldOf({ spec: seen, reference, brief, tasks: [...tasks] }),
    [seen, reference, brief, tasks],
  );
  const tell = useStable((requirement: Requirement, at: number): void => {
    const sentence = sentenceOf(requirementWords(requirement, words.names));
    setPart(tasksStore, 'tell it in a task', {
      tasks: tasks.map((task, nth) => (nth === at ? { ...task, text: `${task.text.trimEnd()}\n\n${sentence}` } : task)),
    });
    announce(`Task ${at + 1} says it now.`);
  });
  const checked = useMemo(
    () => ({
      reference,
      spec,
      policy: lab.policy,
      brief: lab.brief,
      plan,
      tasks,
      ...(starter && { starter }),
    }),
    [reference, spec, lab.policy, lab.brief, tasks, plan, starter],
  );
  const { check, problems, doubts } = useReferenceCheck(checked);
  const [adding, setAdding] = useState<string | null>(null);
  const [beside, setBeside] = useState<'groups' | 'draft' | 'text'>('groups');
  const toggle = (panel: 'draft' | 'text'): void => setBeside(beside === panel ? 'groups' : panel);
  const [notPut, setNotPut] = useState<string | null>(null);
  const [isTaking, setTaking] = useState(false);
  const { chosen, choose, putIn, chooseNone } = useChosen(spec, change, setNotPut);
  const addTyped = useStable((section: string, { rule, sentence, points: worth, bonus }: TypedRule): void => {
    const added = addRequirement(spec, section, rule, {
      ...(worth !== undefined && { points: worth }),
      ...(bonus && { bonus }),
    });
    change(added.spec);
    announce(`${added.id} is added: ${sentence}`);
  });
  const chooseStably = useStable(choose);
  const openKinds = useStable((section: string) => setAdding(section));
  const actions = useMemo(
    (): RowActions => ({
      change: (section, next) => edit((now) => setRequirement(now, section, next)),
      copy: (section, id) => edit((now) => copyRequirement(now, section, id)),
      remove: (section, id) => edit((now) => removeRequirement(now, section, id)),
      move: (id, section) => edit((now) => moveRequirement(now, id, section, null)),
      tell,
      choose: chooseStably,
      others: (id) =>
        store
          .getState()
          .document.sections.flatMap(({ requirements }) => requirements.map((each) => each.id))
          .filter((each) => each !== id),
    }),
    [edit, tell, chooseStably, store],
  );
  const sections = useMemo(() => spec.sections.map(({ id, title }) => ({ id, title })), [spec]);
  useShortcuts([
    ...historyKeys(state),
    { id: 'draft', text: 'Draft, or close the draft', keys: 'D', run: () => toggle('draft') },
    { id: 'text', text: 'Spec as text, or close it', keys: 'T', run: () => toggle('text') },
    {
      id: 'type-requirement',
      text: 'Type a requirement',
      keys: 'A',
      run: () => {
        // In the section where one is, else in the last one.
        const here = document.activeElement?.closest('section')?.querySelector<HTMLElement>('[data-typed-requirement]');
        (here ?? [...document.querySelectorAll<HTMLElement>('[data-typed-requirement]')].at(-1))?.focus();
      },
    },
    { id: 'choose-none', text: 'Choose none', keys: 'Esc', off: !chosen.size, run: chooseNone },
    {
      id: 'remove-chosen',
      text: 'Remove what is chosen',
      keys: 'Del',
      off: !chosen.size,
      run: () => change(removeAll(spec, chosen)),
    },
  ]);
  const total = spec.sections.reduce((sum, section) => sum + pointsOf(section), 0);
  const count = spec.sections.reduce((sum, section) => sum + section.requirements.length, 0);
  return (
    <>
      <TopBar title={lab.title} under={`${lab.courseTitle} · spec`}>
        {check && (
          <Typography sx={{ color: check.points < check.of ? 'var(--ochre-text)' : 'var(--ink2)' }}>
            The reference earns <b className="mono">{points(check.points)}</b> of{' '}
            <b className="mono">{points(check.of)}</b>
          </Typography>
        )}
        <Button
          startIcon={<IconListCheck size={16} />}
          aria-pressed={beside === 'draft'}
          variant={beside === 'draft' ? 'outlined' : 'text'}
          onClick={() => toggle('draft')}
        >
          Draft&nbsp;
          <Key id="draft" keys="D" />
        </Button>
        <Button
          startIcon={<IconFileText size={16} />}
          aria-pressed={beside === 'text'}
          variant={beside === 'text' ? 'outlined' : 'text'}
          onClick={() => toggle('text')}
        >
          Text&nbsp;
          <Key id="text" keys="T" />
        </Button>
        <Button component={Link} to="drill" startIcon={<IconTargetArrow size={16} />}>
          Drill
        </Button>
        <HistoryTools state={state} />
        <Others line={lineOfLab(lab.id)} />
        <SaveSign save={state.save.kind} />
      </TopBar>
      <PartTrouble part={state} what="spec" />
      <VersionStrip lab={lab} isSaved={state.save.kind === 'saved'} />
      <Box sx={DESK}>
        <Box sx={{ ...BODY, p: { xs: 1, sm: 2 } }}>
          <Stack spacing={2} sx={{ maxWidth: 900, mx: 'auto', pb: 6 }}>
            {lost !== null && <Alert severity="warning">{lost}</Alert>}
            {problems.length > 0 && (
              <Alert severity="warning" variant="outlined">
                {problems.length === 1
                  ? 'The spec points at something that is not there: the place is marked below.'
                  : `The spec points at ${problems.length} things that are not there: the places are marked below.`}
              </Alert>
            )}
            {doubts.some(({ code }) => code === 'contradiction') && (
              <Alert severity="warning" variant="outlined">
                {contradictions(doubts)}
              </Alert>
            )}
            {count > 0 && idle.length > 0 && (
              <Alert severity="info" variant="outlined">
                No point hangs on {idle.length === 1 ? 'task' : 'tasks'} {idle.map((at) => at + 1).join(' and ')}.
              </Alert>
            )}
            {spec.sections.length === 0 && (
              <Empty
                title="No requirement yet"
                action={
                  <Stack direction="row" spacing={1} useFlexGap sx={{ justifyContent: 'center', flexWrap: 'wrap' }}>
                    <Button variant="contained" onClick={() => setBeside('draft')}>
                      Draft a spec
                    </Button>
                    <Button variant="outlined" onClick={() => change(addSection(spec, 'Components'))}>
                      Add the first section
                    </Button>
                    <Button variant="outlined" onClick={() => setTaking(true)}>
                      Take from another lab
                    </Button>
                  </Stack>
                }
              >
                A spec says in sentences what must be there, how it must be cabled and addressed, and who must reach
                whom, each with points. A draft proposes them from the reference, the brief and the plan.
              </Empty>
            )}
            {notPut !== null && (
              <Alert severity="warning" onClose={() => setNotPut(null)}>
                {notPut}
              </Alert>
            )}
            {chosen.size > 0 && <ChosenBar spec={spec} chosen={chosen} onChange={change} onNone={chooseNone} />}
            <SortableLists
              lists={spec.sections.map(sortedList)}
              nameOf={(id) => `Requirement ${id}`}
              onMove={(id, section, before) => change(moveRequirement(spec, id, section, before))}
            >
              <Stack spacing={2}>
                {spec.sections.map((section, at) => (
                  <SectionPanel
                    key={section.id}
                    section={section}
                    nth={at + 1}
                    sections={sections}
                    words={words}
                    told={told}
                    check={check}
                    problems={problems}
                    doubts={doubts}
                    chosen={chosen}
                    onEdit={edit}
                    onAdd={openKinds}
                    onType={addTyped}
                    actions={actions}
                  />
                ))}
              </Stack>
            </SortableLists>
            {spec.sections.length > 0 && (
              <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
                <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: 'wrap' }}>
                  <AddButton of="main" onAdd={() => change(addSection(spec, 'New section'))}>
                    Add a section
                  </AddButton>
                  <Button startIcon={<IconCopyPlus size={16} />} onClick={() => setTaking(true)}>
                    Take from another lab
                  </Button>
                </Stack>
                <Typography>
                  {count} requirements, <b className="mono">{points(total)}</b> points
                </Typography>
              </Stack>
            )}
          </Stack>
        </Box>
        {beside === 'draft' && (
          <DraftPanel lab={checked} spec={spec} onChange={change} onClose={() => setBeside('groups')} />
        )}
        {beside === 'text' && (
          <SpecText
            store={store}
            kept={lab.documents.spec}
            spec={spec}
            around={{ reference, groups: words.groups, tasks }}
            problems={problems}
            onClose={() => setBeside('groups')}
          />
        )}
        {beside === 'groups' && (
          <GroupsPanel spec={spec} reference={reference} words={words} doubts={doubts} onChange={change} />
        )}
      </Box>
      {isTaking && (
        <OtherLabDialog
          lab={lab.id}
          onTake={(text) => {
            setTaking(false);
            putIn(text);
          }}
          onClose={() => setTaking(false)}
        />
      )}
      <KindDialog
        open={adding !== null}
        title="What must hold?"
        onClose={() => setAdding(null)}
        onChoose={(kind) => {
          if (adding) {
            const added = addRequirement(spec, adding, words.begin(kind));
            change(added.spec);
            // The dialog gives the focus back to what opened it: after that it goes to the first word of what is new.
            window.setTimeout(() =>
              document.querySelector<HTMLElement>(`[data-requirement="${added.id}"] .slot`)?.focus(),
            );
          }
          setAdding(null);
        }}
      />
    </>
  );
}

/** How many pairs contradict one another, and which. */
function contradictions(doubts: readonly Doubt[]): string {
  const pairs = doubts
    .filter(({ code }) => code === 'contradiction')
    .map(({ requirements }) => requirements.join(' and '));
  return `${plural(pairs.length, 'contradiction')}: ${pairs.join('; ')}. The reason stands with the requirement.`;
}

/** What is shown elsewhere of the spec and of what was checked by it is read anew when a change has reached the server. */
function useFreshResults(labId: string, store: PartStore<'spec'>): void {
  const client = useQueryClient();
  useEffect(
    () =>
      store.subscribe(({ save }, before) => {
        if (save.kind === 'saved' && before.save.kind !== 'saved')
          void readAnew(client, ['lab', labId], ['class'], ['results'], ['submission']);
      }),
    [client, labId, store],
  );
}
