import { Alert } from '@mui/material';
import { type Policy, type Shown, SHOWN_AT_FIRST } from '@sobrin/core/spec';
import { Choice } from '../ui/fields';
import { Sentence } from '../ui/sentence';

const isAtFirst = (shown: Shown): boolean =>
  Object.entries(SHOWN_AT_FIRST).every(([key, value]) => shown[key as keyof Shown] === value);

/** What students see of a result, and when. */
export function ShownRules({
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
      <Sentence>
        Of a result students see{' '}
        <Choice
          label="What students see of a result"
          value={shown.what}
          options={[
            { value: 'nothing', text: 'nothing' },
            { value: 'points', text: 'their points' },
            { value: 'sections', text: 'the points of each section' },
            { value: 'findings', text: 'every requirement and its verdict' },
          ]}
          onChange={(what) => set({ what })}
        />
        {shown.what !== 'nothing' && (
          <>
            ,{' '}
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
          </>
        )}
        .
      </Sentence>
      {shown.what === 'findings' && (
        <Sentence>
          Findings say{' '}
          <Choice
            label="How much findings say"
            value={shown.strength}
            options={[
              { value: 'that', text: 'that something is wrong' },
              { value: 'where', text: 'also where, on their drawing' },
              { value: 'what', text: 'also what it is, in words' },
            ]}
            onChange={(strength) => set({ strength })}
          />
          , and the spec’s hints as far as that.
        </Sentence>
      )}
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
