import { Alert, Box, Button, Typography } from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { type Policy, shownBy } from '@sobrin/core/spec';
import { useState } from 'react';
import { Choice, Row, TextInput } from '../ui/fields';
import { Panel } from '../ui/panel';
import { LatenessRow, ShownRow } from './result-rules';
import { KitLimits } from './kit-limits';
import { RoutingRows } from './routing-rules';
import { ownZone, clockTime, momentOf } from '../ui/words';
import { Pad } from './needs-panels';
import { type BriefParts } from './use-brief';

export function RulesPanel({
  lab,
  of: { timeZone, teaches, mayEdit, notInForce },
  onChange,
}: {
  lab: Pick<BriefParts, 'title' | 'dueAt' | 'policy'>;
  of: Pick<LabView, 'timeZone' | 'teaches' | 'mayEdit' | 'notInForce'>;
  onChange: (change: Partial<BriefParts>) => void;
}) {
  const { policy } = lab;
  const due = lab.dueAt ? clockTime(timeZone, lab.dueAt) : '';
  const [now] = useState(() => new Date());
  const [kitOpen, setKitOpen] = useState(false);
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
            disabled={!mayEdit}
            onCommit={(title) => title.trim() && onChange({ title: title.trim() })}
          />
        </Row>
        <Row label="Due">
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
          {timeZone !== ownZone() && (
            <Typography variant="body2" color="text.secondary">
              on the clocks of {timeZone.replaceAll('_', ' ')}
            </Typography>
          )}
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
        {policy.late === 'accepted' && (
          <LatenessRow rule={policy.latePenalty} onSet={(latePenalty) => set({ latePenalty })} />
        )}
        <Row label="Attempts">
          <TextInput
            label="Attempts"
            mono
            placeholder="any number"
            value={policy.attempts === undefined ? '' : String(policy.attempts)}
            strict
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
        <Row label="Looking in">
          <Choice
            label="When instructors see drawings"
            value={policy.lookIn ? 'before' : 'after'}
            options={[
              { value: 'after', text: 'when they are handed in' },
              { value: 'before', text: 'also before, and may comment' },
            ]}
            onChange={(value) => set({ lookIn: value === 'before' ? true : undefined })}
          />
        </Row>
        <Row label="Cabling">
          <Choice
            label="Automatic cabling"
            value={(policy.autoCabling ?? (policy.bench ?? 'coach') === 'coach') ? 'on' : 'off'}
            options={[
              { value: 'on', text: 'the bench may choose ports and media' },
              { value: 'off', text: 'students choose ports and media' },
            ]}
            onChange={(value) => set({ autoCabling: value === 'on' })}
          />
        </Row>
        <Row label="Kit">
          <Button size="small" variant="outlined" onClick={() => setKitOpen(true)}>
            {policy.kit ? plural(Object.keys(policy.kit).length, 'model') : 'All models, any number'}
          </Button>
        </Row>
        <Row label="Modules">
          <Choice
            label="Modules"
            value={policy.modules ?? 'any-time'}
            options={[
              { value: 'any-time', text: 'can be changed at any time' },
              { value: 'power-off', text: 'only while the power is off' },
            ]}
            onChange={(value) => set({ modules: value === 'any-time' ? undefined : value })}
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
        <Row label="Filters">
          <Choice
            label="What filters see of translated packets"
            value={policy.filterOut ?? 'before-translation'}
            options={[
              { value: 'before-translation', text: 'what leaves, as it was before translation' },
              { value: 'after-translation', text: 'what leaves, as it is translated' },
            ]}
            onChange={(value) => set({ filterOut: value === 'before-translation' ? undefined : value })}
          />
        </Row>
        <RoutingRows policy={policy} onSet={set} />
        <Row label="Missing">
          <Choice
            label="What is missing"
            value={policy.missing ?? 'once'}
            options={[
              { value: 'once', text: 'costs where it is asked for' },
              { value: 'everywhere', text: 'also where something is asked of it' },
            ]}
            onChange={(value) => set({ missing: value === 'once' ? undefined : value })}
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
        <ShownRow shown={shownBy(policy)} isDue={lab.dueAt !== null} onSet={(shown) => set({ shown })} />
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
