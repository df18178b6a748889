import { Box } from '@mui/material';
import { plural } from '@sobrin/core';
import { type Policy } from '@sobrin/core/spec';
import { Choice } from '../ui/fields';
import { Sentence } from '../ui/sentence';
import { Group, type SetRules } from './rules-group';

/** How a mark comes about, in its order (see `markLines`). */
export function MarkRules({ policy, onSet }: { policy: Policy; onSet: SetRules }) {
  const { late, latePenalty } = policy;
  return (
    <Group title="The mark">
      <Sentence>
        A device plays a part{' '}
        <Choice
          label="How devices are known"
          value={policy.names ?? 'any'}
          options={[
            { value: 'any', text: 'by what it is linked to, whatever its name' },
            { value: 'exact', text: 'by its name, that of the reference' },
          ]}
          onChange={(value) => onSet({ names: value === 'any' ? undefined : value })}
        />
        .
      </Sentence>
      <Sentence>
        What is missing{' '}
        <Choice
          label="What is missing"
          value={policy.missing ?? 'once'}
          options={[
            { value: 'once', text: 'costs where it is asked for' },
            { value: 'everywhere', text: 'costs also where something is asked of it' },
          ]}
          onChange={(value) => onSet({ missing: value === 'once' ? undefined : value })}
        />
        .
      </Sentence>
      <Sentence>
        A mistake{' '}
        <Choice
          label="A mistake counts"
          value={policy.followThrough ?? 'off'}
          options={[
            { value: 'off', text: 'counts wherever it shows' },
            { value: 'on', text: 'counts once' },
          ]}
          onChange={(value) =>
            onSet(
              value === 'on'
                ? { followThrough: 'on' }
                : { followThrough: undefined, mistakeCost: undefined, mistakeRuns: undefined },
            )
          }
        />
        {policy.followThrough === 'on' && (
          <>
            : what follows from it is given back, and it costs{' '}
            <Choice
              label="What a mistake costs"
              value={policy.mistakeCost === undefined ? '' : String(policy.mistakeCost)}
              options={[
                { value: '', text: 'what was lost on the thing itself' },
                ...[...new Set([0.5, 1, 2, 3, 5, ...(policy.mistakeCost === undefined ? [] : [policy.mistakeCost])])]
                  .sort((a, b) => a - b)
                  .map((cost) => ({ value: String(cost), text: plural(cost, 'point') })),
              ]}
              onChange={(value) => onSet({ mistakeCost: value === '' ? undefined : Number(value) })}
            />
          </>
        )}
        .
      </Sentence>
      <Box component="ol" aria-label="Order of the mark" sx={{ m: 0, my: 0.5, pl: 2.5, '& li': { py: '2px' } }}>
        <li>
          Requirements are judged
          {policy.followThrough === 'on' && ', what follows from at most three mistakes is given back'}, and what
          persons decided holds.
        </li>
        <li>Deductions are taken off, bonuses are added; no section goes below 0.</li>
        <li>
          The sum is rounded{' '}
          <Box component="span" sx={{ '& select': { width: 'auto !important' } }}>
            <Choice
              label="Rounding of points"
              value={String(policy.rounding ?? 0.5)}
              options={['1', '0.5', '0.25', '0.1'].map((value) => ({
                value,
                text: `down to ${value === '1' ? 'whole' : value} points`,
              }))}
              onChange={(value) => onSet({ rounding: Number(value) })}
            />
          </Box>
          .
        </li>
        {policy.hintCost !== undefined && policy.hintCost > 0 && (
          <li>Each hint that was asked for takes {plural(policy.hintCost, 'point')} off.</li>
        )}
        {late === 'accepted' && latePenalty && (
          <li>
            Lateness takes {latePenalty.percentPerDay} % of it off a day
            {latePenalty.most === undefined ? '' : `, at most ${latePenalty.most} %`}.
          </li>
        )}
      </Box>
    </Group>
  );
}
