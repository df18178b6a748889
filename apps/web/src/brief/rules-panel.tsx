import { Alert, Box, Button, Stack } from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { shownBy } from '@sobrin/core/spec';
import { useState } from 'react';
import { Choice, Row, TextInput } from '../ui/fields';
import { Panel } from '../ui/panel';
import { Sentence } from '../ui/sentence';
import { clockTime, momentOf, ownZone } from '../ui/words';
import { AskingRules } from './asking-rules';
import { AttemptRules, LatenessRule } from './attempt-rules';
import { EquipmentRules } from './equipment-rules';
import { KitLimits } from './kit-limits';
import { MarkRules } from './mark-rules';
import { Pad } from './needs-panels';
import { Group, type SetRules } from './rules-group';
import { SelfCheckRule } from './self-check-rule';
import { ShownRules } from './shown-rules';
import { type BriefParts } from './use-brief';

/** The rules of a lab as sentences with choices in them: how students work, hand in, are marked, and what they see. */
export function RulesPanel({
  lab,
  of: { timeZone, teaches, mayEdit, notInForce, untoldNames, spec },
  onChange,
}: {
  lab: Pick<BriefParts, 'title' | 'dueAt' | 'policy'>;
  of: Pick<LabView, 'timeZone' | 'teaches' | 'mayEdit' | 'notInForce' | 'untoldNames' | 'spec'>;
  onChange: (change: Partial<BriefParts>) => void;
}) {
  const { policy } = lab;
  const due = lab.dueAt ? clockTime(timeZone, lab.dueAt) : '';
  const [now] = useState(() => new Date());
  const [kitOpen, setKitOpen] = useState(false);
  const set: SetRules = (change) =>
    onChange({
      policy: Object.fromEntries(Object.entries({ ...policy, ...change }).filter(([, value]) => value !== undefined)),
    });
  return (
    <Panel title="Rules of the lab" aside="what judges is in force once it is final, all else at once">
      <Pad>
        <Box sx={{ maxWidth: 480, mb: 1 }}>
          <Row label="Title">
            <TextInput
              label="Title of the lab"
              value={lab.title}
              disabled={!mayEdit}
              onCommit={(title) => title.trim() && onChange({ title: title.trim() })}
            />
          </Row>
        </Box>
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(0, 1fr)' },
            columnGap: 4,
            rowGap: 1.5,
            alignItems: 'start',
          }}
        >
          <Stack spacing={1.5}>
            <Group title="Working">
              <Sentence>
                The bench tells students{' '}
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
                .
              </Sentence>
              <Sentence>
                For a cable that is drawn{' '}
                <Choice
                  label="Automatic cabling"
                  value={(policy.autoCabling ?? (policy.bench ?? 'coach') === 'coach') ? 'on' : 'off'}
                  options={[
                    { value: 'on', text: 'the bench may choose ports and media' },
                    { value: 'off', text: 'students choose ports and media' },
                  ]}
                  onChange={(value) => set({ autoCabling: value === 'on' })}
                />
                .
              </Sentence>
              <Sentence>
                The kit has{' '}
                <Button size="small" variant="outlined" sx={{ py: 0 }} onClick={() => setKitOpen(true)}>
                  {policy.kit ? plural(Object.keys(policy.kit).length, 'model') : 'all models, any number'}
                </Button>
                .
              </Sentence>
              <Sentence>
                Instructors see drawings{' '}
                <Choice
                  label="When instructors see drawings"
                  value={policy.lookIn ? 'before' : 'after'}
                  options={[
                    { value: 'after', text: 'when they are handed in' },
                    { value: 'before', text: 'also before, and may comment' },
                  ]}
                  onChange={(value) => set({ lookIn: value === 'before' ? true : undefined })}
                />
                .
              </Sentence>
              <SelfCheckRule rule={policy.selfChecks} spec={spec} onSet={(selfChecks) => set({ selfChecks })} />
              <AskingRules policy={policy} spec={spec} onSet={set} />
            </Group>
            <Group title="Handing in">
              <Sentence>
                The lab is due on{' '}
                <span className="moment">
                  <Box
                    component="input"
                    type="datetime-local"
                    aria-label="Due date"
                    key={lab.dueAt}
                    defaultValue={due}
                    disabled={!teaches}
                    onBlur={(event: { target: { value: string } }) => {
                      const { value } = event.target;
                      if (value !== due) onChange({ dueAt: value ? momentOf(timeZone, value) : null });
                    }}
                    sx={{
                      font: 'inherit',
                      height: 28,
                      width: '100%',
                      color: 'var(--ink)',
                      background: 'var(--surface)',
                      border: '1px solid var(--line2)',
                      borderRadius: '6px',
                      px: 1,
                    }}
                  />
                </span>
                {timeZone !== ownZone() && ` on the clocks of ${timeZone.replaceAll('_', ' ')}`}.
              </Sentence>
              <Sentence>
                After that{' '}
                <Choice
                  label="After the due date"
                  value={policy.late ?? 'refused'}
                  options={[
                    { value: 'refused', text: 'nothing more is taken' },
                    { value: 'accepted', text: 'attempts are taken, marked as late' },
                  ]}
                  onChange={(late) => set({ late })}
                />
                .
              </Sentence>
              {policy.late === 'accepted' && (
                <LatenessRule rule={policy.latePenalty} onSet={(latePenalty) => set({ latePenalty })} />
              )}
              <AttemptRules policy={policy} onSet={set} />
            </Group>
          </Stack>
          <Stack spacing={1.5}>
            <MarkRules policy={policy} onSet={set} />
            <Group title="What students see">
              <ShownRules shown={shownBy(policy)} isDue={lab.dueAt !== null} onSet={(shown) => set({ shown })} />
            </Group>
            <EquipmentRules policy={policy} onSet={set} />
          </Stack>
        </Box>
        {policy.names === 'exact' && untoldNames.length > 0 && (
          <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
            {plural(untoldNames.length, 'name')} of the reference {untoldNames.length === 1 ? 'stands' : 'stand'} in
            nothing that students read, so that nobody can know {untoldNames.length === 1 ? 'it' : 'them'}:{' '}
            {untoldNames.slice(0, 12).join(', ')}
            {untoldNames.length > 12 && ` and ${untoldNames.length - 12} more`}. Write{' '}
            {untoldNames.length === 1 ? 'it' : 'them'} into a task.
          </Alert>
        )}
        {notInForce !== null && (
          <Alert severity="info" variant="outlined" sx={{ mt: 1 }}>
            {notInForce}
          </Alert>
        )}
        {lab.dueAt && new Date(lab.dueAt) < now && (
          <Alert severity="info" variant="outlined" sx={{ mt: 1 }}>
            The due date has passed.
          </Alert>
        )}
        <KitLimits open={kitOpen} kit={policy.kit} onClose={() => setKitOpen(false)} onSet={(kit) => set({ kit })} />
      </Pad>
    </Panel>
  );
}
