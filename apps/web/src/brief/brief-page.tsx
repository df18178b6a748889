import { Alert, Box, Button, IconButton, Stack, Tooltip, Typography } from '@mui/material';
import { IconDownload, IconPlus, IconX } from '@tabler/icons-react';
import { type LabView } from '@sobrin/contracts';
import { type LabFile, type Policy } from '@sobrin/core';
import { type ReactNode, useState } from 'react';
import { api } from '../api/client';
import { fileName, give } from '../api/files';
import { useChangeLab } from '../api/queries';
import { useShownLab } from '../lab/lab-shell';
import { Choice, Row, TextInput } from '../ui/fields';
import { Failure, Panel, TopBar } from '../ui/parts';

/** What the customer needs, what students are asked, and the rules under which they hand in. */
export function BriefPage() {
  const lab = useShownLab();
  const change = useChangeLab(lab);
  const [error, setError] = useState<unknown>(null);
  const exportLab = async (): Promise<void> => {
    try {
      give(
        fileName(lab.title, 'json'),
        'application/json',
        `${JSON.stringify(await api<LabFile>('GET', `labs/${lab.id}/file`), null, 1)}\n`,
      );
      setError(null);
    } catch (failure) {
      setError(failure);
    }
  };
  return (
    <>
      <TopBar title={lab.title} under={`${lab.courseTitle} · brief`}>
        <Button variant="outlined" startIcon={<IconDownload size={16} />} onClick={() => void exportLab()}>
          Save the lab as a file
        </Button>
      </TopBar>
      <Box sx={{ flex: 1, overflow: 'auto', p: 2 }}>
        <Box
          sx={{
            maxWidth: 1080,
            mx: 'auto',
            display: 'grid',
            gridTemplateColumns: { md: 'minmax(0, 3fr) minmax(0, 2fr)' },
            gap: 2,
            alignItems: 'start',
            pb: 6,
          }}
        >
          <Stack spacing={2}>
            {(change.isError || error !== null) && <Failure error={change.error ?? error} />}
            <Panel title="Scenario">
              <Pad>
                <TextInput
                  label="Scenario"
                  multiline
                  maxLength={20_000}
                  value={lab.brief.scenario ?? ''}
                  placeholder="Who is the customer, and what do they need?"
                  onCommit={(scenario) => change.mutate({ brief: { ...lab.brief, scenario } })}
                />
              </Pad>
            </Panel>
            <Lines
              title="Objectives"
              placeholder="What will students be able to do?"
              lines={lab.brief.objectives ?? []}
              onChange={(objectives) => change.mutate({ brief: { ...lab.brief, objectives } })}
            />
            <Tasks lab={lab} onChange={(tasks) => change.mutate({ tasks })} />
            <Groups lab={lab} />
          </Stack>
          <Rules lab={lab} onChange={(next) => change.mutate(next)} />
        </Box>
      </Box>
    </>
  );
}

const Pad = ({ children }: { children: ReactNode }) => <Box sx={{ p: 1.5 }}>{children}</Box>;

function Lines({
  title,
  placeholder,
  lines,
  onChange,
}: {
  title: string;
  placeholder: string;
  lines: readonly string[];
  onChange: (lines: string[]) => void;
}) {
  return (
    <Panel title={title}>
      <Pad>
        {[...lines, ''].map((line, at) => (
          <Box
            key={`${at} ${lines.length}`}
            sx={{ display: 'grid', gridTemplateColumns: '20px 1fr', gap: 1, py: '2px' }}
          >
            <Typography sx={{ lineHeight: '28px', color: 'var(--ink3)' }}>{at < lines.length ? '–' : '+'}</Typography>
            <div>
              <TextInput
                label={at < lines.length ? `${title} ${at + 1}` : `Add to ${title.toLowerCase()}`}
                placeholder={at < lines.length ? '' : placeholder}
                value={line}
                onCommit={(text) =>
                  onChange([...lines.slice(0, at), text, ...lines.slice(at + 1)].filter((one) => one.trim() !== ''))
                }
              />
            </div>
          </Box>
        ))}
      </Pad>
    </Panel>
  );
}

function Tasks({ lab, onChange }: { lab: LabView; onChange: (tasks: LabView['tasks']) => void }) {
  const { tasks } = lab;
  const add = (): void => {
    const taken = new Set(tasks.map((one) => one.id));
    let at = tasks.length + 1;
    while (taken.has(`t${at}`)) at++;
    onChange([...tasks, { id: `t${at}`, text: 'What is to be done?' }]);
  };
  return (
    <Panel title="Tasks" aside="students see them numbered, with a place for an answer">
      <Pad>
        {tasks.map((task, at) => (
          <Box key={task.id} sx={{ display: 'grid', gridTemplateColumns: '20px 1fr 28px', gap: 1, py: '2px' }}>
            <Typography className="mono" sx={{ lineHeight: '28px' }}>
              {at + 1}
            </Typography>
            <div>
              <TextInput
                label={`Task ${at + 1}`}
                multiline
                maxLength={20_000}
                value={task.text}
                onCommit={(text) => onChange(tasks.map((one) => (one.id === task.id ? { ...one, text } : one)))}
              />
            </div>
            <Tooltip title="Remove">
              <IconButton
                size="small"
                aria-label={`Remove task ${at + 1}`}
                onClick={() => onChange(tasks.filter((one) => one.id !== task.id))}
              >
                <IconX size={15} />
              </IconButton>
            </Tooltip>
          </Box>
        ))}
        <Button startIcon={<IconPlus size={14} />} onClick={add}>
          Add a task
        </Button>
      </Pad>
    </Panel>
  );
}

function Groups({ lab }: { lab: LabView }) {
  const groups = lab.brief.groups ?? [];
  if (!groups.length) return null;
  return (
    <Panel title="Groups" aside="hosts now and later">
      <Pad>
        {groups.map((one) => (
          <Box key={one.name} sx={{ display: 'grid', gridTemplateColumns: '1fr 160px 56px 56px', gap: 1, py: '3px' }}>
            <span>{one.name}</span>
            <span style={{ color: 'var(--ink2)' }}>{one.site}</span>
            <span className="mono" style={{ textAlign: 'right' }}>
              {one.now}
            </span>
            <b className="mono" style={{ textAlign: 'right' }}>
              {one.later}
            </b>
          </Box>
        ))}
      </Pad>
    </Panel>
  );
}

/** A moment as the input for date and time wants it: the person's own time, without a zone. */
const localTime = (iso: string): string => {
  const date = new Date(iso);
  return new Date(date.getTime() - date.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
};

function Rules({
  lab,
  onChange,
}: {
  lab: LabView;
  onChange: (change: { policy?: Policy; dueAt?: string | null; title?: string }) => void;
}) {
  const { policy } = lab;
  const set = (change: { [K in keyof Policy]: Policy[K] | undefined }): void =>
    onChange({
      policy: Object.fromEntries(Object.entries({ ...policy, ...change }).filter(([, value]) => value !== undefined)),
    });
  return (
    <Panel title="Rules of the lab">
      <Pad>
        <Row label="Title">
          <TextInput
            label="Title of the lab"
            value={lab.title}
            onCommit={(title) => title.trim() && onChange({ title: title.trim() })}
          />
        </Row>
        <Row label="Due">
          <Box
            component="input"
            type="datetime-local"
            aria-label="Due date"
            key={lab.dueAt}
            defaultValue={lab.dueAt ? localTime(lab.dueAt) : ''}
            onBlur={(event: { target: { value: string } }) => {
              const { value } = event.target;
              if (value !== (lab.dueAt ? localTime(lab.dueAt) : ''))
                onChange({ dueAt: value ? new Date(value).toISOString() : null });
            }}
            sx={{
              font: 'inherit',
              height: 28,
              width: '100%',
              color: 'var(--ink)',
              background: 'var(--surface)',
              border: '1px solid var(--line)',
              borderRadius: '6px',
              px: 1,
            }}
          />
        </Row>
        <Row label="After it">
          <Choice
            label="After the due date"
            value={policy.late ?? 'refused'}
            options={[
              { value: 'refused', text: 'nothing more is taken' },
              { value: 'accepted', text: 'taken, marked as late' },
            ]}
            onChange={(late) => set({ late })}
          />
        </Row>
        <Row label="Attempts">
          <TextInput
            label="Attempts"
            mono
            placeholder="any number"
            value={policy.attempts === undefined ? '' : String(policy.attempts)}
            check={(text) =>
              /^([1-9]\d?|100)$/.test(text) ? null : 'A number from 1 to 100; leave it empty for any number.'
            }
            onCommit={(text) =>
              (text === '' || /^([1-9]\d?|100)$/.test(text)) &&
              set({ attempts: text === '' ? undefined : Number(text) })
            }
          />
        </Row>
        <Row label="Bench tells">
          <Choice
            label="How much the bench tells students"
            value={policy.bench ?? 'coach'}
            options={[
              { value: 'coach', text: 'all: problems, and what fits' },
              { value: 'plain', text: 'link states only, as equipment does' },
              { value: 'examination', text: 'nothing' },
            ]}
            onChange={(bench) => set({ bench })}
          />
        </Row>
        <Row label="Pairing">
          <Choice
            label="Copper ports"
            value={policy.autoPairing === false ? 'off' : 'on'}
            options={[
              { value: 'on', text: 'gigabit ports find it themselves' },
              { value: 'off', text: 'as in older kit: cables must be right' },
            ]}
            onChange={(value) => set({ autoPairing: value === 'off' ? false : undefined })}
          />
        </Row>
        <Row label="VLANs">
          <Choice
            label="VLAN database"
            value={policy.vlanDatabase ?? 'implicit'}
            options={[
              { value: 'implicit', text: 'exist where they are used' },
              { value: 'created', text: 'must be created on each switch' },
            ]}
            onChange={(value) => set({ vlanDatabase: value === 'implicit' ? undefined : value })}
          />
        </Row>
        <Row label="Rounding">
          <Choice
            label="Rounding of points"
            value={String(policy.rounding ?? 0.5)}
            options={['1', '0.5', '0.25', '0.1'].map((value) => ({
              value,
              text: `down to ${value === '1' ? 'whole' : value} points`,
            }))}
            onChange={(value) => set({ rounding: Number(value) })}
          />
        </Row>
        {lab.dueAt && new Date(lab.dueAt) < new Date() && (
          <Alert severity="info" variant="outlined" sx={{ mt: 1 }}>
            The due date has passed.
          </Alert>
        )}
      </Pad>
    </Panel>
  );
}
