import { Autocomplete, Box, TextField, Typography } from '@mui/material';
import { type Policy, type Spec, tellable } from '@sobrin/core/spec';
import { Choice, TextInput } from '../ui/fields';
import { Sentence } from '../ui/sentence';

const TIMES = /^([1-9]|[1-4]\d|50)$/;

/** How often students may have their work judged before they hand it in, and what they are told. */
export function SelfCheckRule({
  rule,
  spec,
  onSet,
}: {
  rule: Policy['selfChecks'];
  spec: Spec;
  onSet: (rule: Policy['selfChecks']) => void;
}) {
  const ids = tellable(spec).map(({ id }) => id);
  return (
    <>
      <Sentence>
        Before they hand in, students may have their work judged{' '}
        <span className="number">
          <TextInput
            label="Self-checks"
            mono
            placeholder="0"
            value={rule ? String(rule.most) : ''}
            strict
            check={(text) => (TIMES.test(text) ? null : 'A number from 1 to 50; leave it empty for none.')}
            onCommit={(text) => {
              if (text === '') onSet(undefined);
              else if (TIMES.test(text)) onSet({ ...rule, most: Number(text) });
            }}
          />
        </span>
        times
        {rule && (
          <>
            ; they are told{' '}
            <Choice
              label="What self-checks tell"
              value={rule.requirements ? 'requirements' : 'sections'}
              options={[
                { value: 'sections', text: 'the points of each section' },
                { value: 'requirements', text: 'whether chosen requirements are met' },
              ]}
              onChange={(what) =>
                onSet(what === 'sections' ? { most: rule.most } : { most: rule.most, requirements: [] })
              }
            />
          </>
        )}
        .
      </Sentence>
      {rule?.requirements && (
        <Box sx={{ py: 0.5 }}>
          <Autocomplete
            multiple
            size="small"
            options={ids}
            value={rule.requirements.filter((id) => ids.includes(id))}
            onChange={(_event, requirements) => onSet({ ...rule, requirements })}
            renderInput={(params) => <TextField {...params} label="Requirements that self-checks tell of" />}
          />
          {!rule.requirements.some((id) => ids.includes(id)) && (
            <Typography variant="body2" sx={{ color: 'var(--ochre-text)' }}>
              None is chosen: a self-check would tell nothing.
            </Typography>
          )}
        </Box>
      )}
    </>
  );
}
