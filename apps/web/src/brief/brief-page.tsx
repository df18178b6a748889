import { Alert, Box, Button, IconButton, Stack, Tooltip, Typography } from '@mui/material';
import { IconDownload, IconUsers, IconX } from '@tabler/icons-react';
import { type LabView } from '@sobrin/contracts';
import { type Task } from '@sobrin/core/spec';
import { useState } from 'react';
import { api } from '../api/client';
import { fileName, give } from '../api/files';
import { type SaveState } from '../documents/saver';
import { Others, lineOfLab } from '../documents/others';
import { HistoryTools, SaveSign } from '../documents/tools';
import { EditorsDialog } from '../lab/editors-dialog';
import { useLabPart } from '../lab/lab-part';
import { useShownLab } from '../lab/lab-shell';
import { PartTrouble } from '../lab/part-trouble';
import { VersionStrip } from '../lab/version-strip';
import { AddButton } from '../ui/add-button';
import { TextInput } from '../ui/fields';
import { Opened } from '../ui/opened';
import { Panel } from '../ui/panel';
import { Failure } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { historyKeys, useShortcuts } from '../ui/keys/shortcuts';
import { FollowsPanel } from './follows-panel';
import { GroupsPanel } from './groups-panel';
import { MarkdownField } from './markdown-field';
import { OutsidePanel, Pad, RatiosPanel, SchemesPanel, SeparationsPanel, SitesPanel } from './needs-panels';
import { ResourcesPanel } from './resources-panel';
import { RulesPanel } from './rules-panel';
import { type BriefStores, useBriefDesk } from './use-brief';
import { usePageTitle } from '../ui/announce';
import { BODY } from '../ui/frame';

/** What the customer needs and what follows from it, what students are asked, and the rules under which they hand in. */
export function BriefPage() {
  const lab = useShownLab();
  usePageTitle('Brief', lab.title);
  const brief = useLabPart(lab.id, 'brief', lab.documents.brief);
  const tasks = useLabPart(lab.id, 'tasks', lab.documents.tasks);
  const policy = useLabPart(lab.id, 'policy', lab.documents.policy);
  return (
    <Opened query={brief} what="Opening the brief">
      {(first) => (
        <Opened query={tasks} what="Opening the tasks">
          {(second) => (
            <Opened query={policy} what="Opening the rules">
              {(third) => (
                <BriefDesk
                  lab={lab}
                  brief={first.store}
                  tasks={second.store}
                  policy={third.store}
                  lost={[first.lost, second.lost, third.lost].filter((text) => text !== null)}
                />
              )}
            </Opened>
          )}
        </Opened>
      )}
    </Opened>
  );
}

function BriefDesk({ lab, lost, ...given }: { lab: LabView; lost: readonly string[] } & BriefStores) {
  const [stores] = useState(given);
  const desk = useBriefDesk(lab, stores);
  const { value, change, setBrief } = desk;
  const { brief, tasks } = value;
  const [error, setError] = useState<unknown>(null);
  const [naming, setNaming] = useState(false);
  useShortcuts(historyKeys(desk));
  const exportLab = async (): Promise<void> => {
    try {
      await Promise.all([desk.brief, desk.tasks, desk.policy].map((part) => part.flush()));
      give(
        fileName(value.title, 'json'),
        'application/json',
        `${JSON.stringify(await api('GET labs/:id/file', { id: lab.id }), null, 1)}\n`,
      );
      setError(null);
    } catch (failure) {
      setError(failure);
    }
  };
  const parts = [
    { part: desk.brief, what: 'brief' },
    { part: desk.tasks, what: 'tasks' },
    { part: desk.policy, what: 'rules' },
  ] as const;
  const saves = [...parts.map(({ part }) => part.save.kind), desk.facts.save.kind];
  return (
    <>
      <TopBar title={value.title} under={`${lab.courseTitle} · brief`}>
        <Button startIcon={<IconUsers size={16} />} onClick={() => setNaming(true)}>
          Editors
        </Button>
        <Button variant="outlined" startIcon={<IconDownload size={16} />} onClick={() => void exportLab()}>
          Save the lab as a file
        </Button>
        <HistoryTools state={desk} />
        <Others line={lineOfLab(lab.id)} />
        <SaveSign save={worst(saves)} />
      </TopBar>
      {naming && <EditorsDialog lab={lab} onClose={() => setNaming(false)} />}
      {parts.map(({ part, what }) => (
        <PartTrouble key={what} part={part} what={what} />
      ))}
      {desk.facts.save.kind === 'offline' && (
        <Alert severity="warning" sx={{ m: 1 }} action={<Button onClick={desk.facts.again}>Try now</Button>}>
          {desk.facts.save.text}
        </Alert>
      )}
      {lost.map((text) => (
        <Alert key={text} severity="warning" sx={{ m: 1 }}>
          {text}
        </Alert>
      ))}
      <VersionStrip lab={lab} isSaved={saves.every((save) => save === 'saved')} />
      <Box sx={{ ...BODY, p: { xs: 1, sm: 2 } }}>
        <Box
          sx={{
            maxWidth: 1240,
            mx: 'auto',
            display: 'grid',
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 7fr) minmax(0, 5fr)' },
            gap: 2,
            alignItems: 'start',
            pb: 6,
          }}
        >
          <Stack spacing={2}>
            {error !== null && <Failure error={error} />}
            <Panel title="Scenario" aside="Markdown, with pictures">
              <Pad>
                <MarkdownField
                  label="Scenario"
                  labId={lab.id}
                  value={brief.scenario ?? ''}
                  placeholder="Who is the customer, and what do they need?"
                  onCommit={(scenario) => setBrief({ scenario })}
                />
              </Pad>
            </Panel>
            <GroupsPanel brief={brief} onChange={(groups) => setBrief({ groups })} />
            <SitesPanel brief={brief} setBrief={setBrief} />
            <SeparationsPanel brief={brief} setBrief={setBrief} />
            <ObjectivesPanel lines={brief.objectives ?? []} onChange={(objectives) => setBrief({ objectives })} />
            <TasksPanel lab={lab} tasks={tasks} onChange={(next) => change({ tasks: next })} />
            <ResourcesPanel lab={lab} brief={brief} onChange={(resources) => setBrief({ resources })} />
          </Stack>
          <Stack spacing={2}>
            <FollowsPanel brief={brief} />
            <OutsidePanel brief={brief} setBrief={setBrief} />
            <SchemesPanel brief={brief} setBrief={setBrief} />
            <RatiosPanel brief={brief} setBrief={setBrief} />
          </Stack>
          <Box sx={{ gridColumn: '1 / -1' }}>
            <RulesPanel lab={value} of={lab} onChange={change} />
          </Box>
        </Box>
      </Box>
    </>
  );
}

/** Of how several documents are saved, what a person must know first. */
const WORST = ['refused', 'conflict', 'offline', 'saving'] as const;
const worst = (saves: readonly SaveState['kind'][]): SaveState['kind'] =>
  WORST.find((kind) => saves.includes(kind)) ?? 'saved';

function ObjectivesPanel({ lines, onChange }: { lines: readonly string[]; onChange: (lines: string[]) => void }) {
  return (
    <Panel title="Objectives">
      <Pad>
        {[...lines, ''].map((line, at) => (
          <Box
            // The empty line at the end stays the same one, so that the next objective can be typed at once.
            key={at < lines.length ? at : 'new'}
            sx={{ display: 'grid', gridTemplateColumns: '20px 1fr', gap: 1, py: '2px' }}
          >
            <Typography sx={{ lineHeight: '28px', color: 'var(--ink3)' }}>{at < lines.length ? '–' : '+'}</Typography>
            <div>
              <TextInput
                label={at < lines.length ? `Objectives ${at + 1}` : 'Add to objectives'}
                placeholder={at < lines.length ? '' : 'What will students be able to do?'}
                value={line}
                onCommit={(text) =>
                  onChange([...lines.slice(0, at), text, ...lines.slice(at + 1)].filter((line) => line.trim() !== ''))
                }
              />
            </div>
          </Box>
        ))}
      </Pad>
    </Panel>
  );
}

function TasksPanel({
  lab,
  tasks,
  onChange,
}: {
  lab: LabView;
  tasks: readonly Task[];
  onChange: (tasks: Task[]) => void;
}) {
  const [added, setAdded] = useState('');
  const add = (): void => {
    const taken = new Set(tasks.map((task) => task.id));
    let at = tasks.length + 1;
    while (taken.has(`t${at}`)) at++;
    setAdded(`t${at}`);
    onChange([...tasks, { id: `t${at}`, text: 'What is to be done?' }]);
  };
  /** Requirements of the spec that belong to a task. */
  const asked = (id: string): string[] =>
    lab.spec.sections.flatMap((section) =>
      section.requirements.filter((each) => each.task === id).map((each) => each.id),
    );
  return (
    <Panel title="Tasks" aside="numbered for students, with a place for an answer">
      <Pad>
        {tasks.map((task, at) => (
          <Box
            key={task.id}
            sx={{
              display: 'grid',
              gridTemplateColumns: '20px 1fr 28px',
              gap: 1,
              py: 0.5,
              borderTop: at ? '1px solid var(--line)' : 0,
            }}
          >
            <Typography className="mono" sx={{ lineHeight: '24px', fontWeight: 700 }}>
              {at + 1}
            </Typography>
            <div>
              <MarkdownField
                label={`Task ${at + 1}`}
                labId={lab.id}
                value={task.text}
                placeholder="What is to be done?"
                isNew={task.id === added}
                onCommit={(text) => onChange(tasks.map((other) => (other.id === task.id ? { ...other, text } : other)))}
              />
              {asked(task.id).length > 0 && (
                <Typography variant="body2" color="text.secondary">
                  Judged by {asked(task.id).join(', ')} of the spec
                </Typography>
              )}
            </div>
            <Tooltip title="Remove">
              <IconButton
                size="small"
                aria-label={`Remove task ${at + 1}`}
                onClick={() => onChange(tasks.filter((other) => other.id !== task.id))}
              >
                <IconX size={15} />
              </IconButton>
            </Tooltip>
          </Box>
        ))}
        <AddButton onAdd={add}>Add a task</AddButton>
      </Pad>
    </Panel>
  );
}
