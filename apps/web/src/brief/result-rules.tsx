import { Alert, Stack } from '@mui/material';
import { type Policy, type Shown, SHOWN_AT_FIRST } from '@sobrin/core/spec';
import { Choice, Row, TextInput } from '../ui/fields';

const PERCENT = /^(100|\d{1,2}([.,]\d{1,2})?)$/;
const percentProblem = (text: string): string | null =>
  PERCENT.test(text) ? null : 'Per cent of the points, a number from 0 to 100; leave it empty for nothing.';
const numberOf = (text: string): number => Number(text.replace(',', '.'));

/** What lateness takes off. */
export function LatenessRow({
  rule,
  onSet,
}: {
  rule: Policy['latePenalty'];
  onSet: (rule: Policy['latePenalty']) => void;
}) {
  return (
    <>
      <Row label="% off a day">
        <TextInput
          label="Per cent off for each begun day"
          mono
          placeholder="nothing"
          value={rule ? String(rule.percentPerDay) : ''}
          strict
          check={percentProblem}
          onCommit={(text) => {
            if (text === '' || numberOf(text) === 0) onSet(undefined);
            else if (PERCENT.test(text)) onSet({ ...rule, percentPerDay: numberOf(text) });
          }}
        />
      </Row>
      {rule && (
        <Row label="% at most">
          <TextInput
            label="At most so many per cent off"
            mono
            placeholder="100"
            value={rule.most === undefined ? '' : String(rule.most)}
            strict
            check={percentProblem}
            onCommit={(text) => {
              const { percentPerDay } = rule;
              if (text === '') onSet({ percentPerDay });
              else if (PERCENT.test(text)) onSet({ percentPerDay, most: numberOf(text) });
            }}
          />
        </Row>
      )}
    </>
  );
}

const isAtFirst = (shown: Shown): boolean =>
  Object.entries(SHOWN_AT_FIRST).every(([key, value]) => shown[key as keyof Shown] === value);

/** What students see of a result, and when. */
export function ShownRow({
  shown,
  isDue,
  onSet,
}: {
  shown: Shown;
  isDue: boolean;
  onSet: (shown: Policy['shown']) => void;
}) {
  const set = (change: Partial<Shown>): void => {
    const next = { ...shown, ...change };
    onSet(isAtFirst(next) ? undefined : next);
  };
  return (
    <>
      <Row label="Results">
        <Stack spacing={0.5}>
          <Choice
            label="What students see of a result"
            value={shown.what}
            options={[
              { value: 'nothing', text: 'students see nothing' },
              { value: 'points', text: 'students see their points' },
              { value: 'sections', text: 'points of each section' },
              { value: 'findings', text: 'every requirement and its verdict' },
            ]}
            onChange={(what) => set({ what })}
          />
          {shown.what === 'findings' && (
            <Choice
              label="How much findings say"
              value={shown.strength}
              options={[
                { value: 'that', text: 'that something is wrong' },
                { value: 'where', text: 'and where, on their drawing' },
                { value: 'what', text: 'and what it is, in words' },
              ]}
              onChange={(strength) => set({ strength })}
            />
          )}
          {shown.what !== 'nothing' && (
            <Choice
              label="When students see it"
              value={shown.when}
              options={[
                { value: 'at-once', text: 'as soon as it is checked' },
                { value: 'after-due', text: 'after the due date' },
                { value: 'when-returned', text: 'when it is given back' },
              ]}
              onChange={(when) => set({ when })}
            />
          )}
        </Stack>
      </Row>
      {shown.what !== 'nothing' && shown.when === 'when-returned' && (
        <Alert severity="info" variant="outlined" sx={{ mt: 1 }}>
          Results cannot be given back yet: until then students see them after the due date.
        </Alert>
      )}
      {shown.what !== 'nothing' && shown.when !== 'at-once' && !isDue && (
        <Alert severity="warning" variant="outlined" sx={{ mt: 1 }}>
          The lab has no due date: nothing is shown until it has one.
        </Alert>
      )}
    </>
  );
}
