import { Autocomplete, Box, TextField, Typography } from '@mui/material';
import { type Policy, type Spec, tellable } from '@sobrin/core/spec';
import { Choice } from '../ui/fields';
import { Sentence } from '../ui/sentence';
import { RuleNumber } from './rule-number';

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
        <RuleNumber
          label="Self-checks"
          value={rule?.most}
          shape={TIMES}
          problem="A number from 1 to 50; leave it empty for none."
          empty="0"
          onSet={(most) => onSet(most === undefined ? undefined : { ...rule, most })}
        />
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
