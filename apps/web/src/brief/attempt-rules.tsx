import { type Policy } from '@sobrin/core/spec';
import { Choice, TextInput } from '../ui/fields';
import { Sentence } from '../ui/sentence';
import { RuleNumber } from './rule-number';
import { type SetRules } from './rules-group';

const PERCENT = /^(100|\d{1,2}([.,]\d{1,2})?)$/;
const percentProblem = (text: string): string | null =>
  PERCENT.test(text) ? null : 'Per cent of the points, a number from 0 to 100; leave it empty for nothing.';
const numberOf = (text: string): number => Number(text.replace(',', '.'));
const ATTEMPTS = /^([1-9]\d?|100)$/;

/** How often students hand in, and which attempt counts. */
export function AttemptRules({ policy, onSet }: { policy: Policy; onSet: SetRules }) {
  const { attempts, counts } = policy;
  return (
    <Sentence>
      Students hand in at most{' '}
      <RuleNumber
        label="Attempts"
        value={attempts}
        shape={ATTEMPTS}
        problem="A number from 1 to 100; leave it empty for any number."
        empty="any"
        onSet={(value) => onSet({ attempts: value })}
      />
      {attempts === 1 ? 'time. ' : 'times; of several attempts '}
      {attempts !== 1 && (
        <>
          <Choice
            label="Which attempt counts"
            value={counts ?? 'last'}
            options={[
              { value: 'last', text: 'the last one counts' },
              { value: 'best', text: 'the best one counts' },
              { value: 'chosen', text: 'the one they choose counts' },
            ]}
            onChange={(value) => onSet({ counts: value === 'last' ? undefined : value })}
          />
          .
        </>
      )}
    </Sentence>
  );
}

/** What lateness takes off. */
export function LatenessRule({
  rule,
  onSet,
}: {
  rule: Policy['latePenalty'];
  onSet: (rule: Policy['latePenalty']) => void;
}) {
  return (
    <Sentence>
      Each begun day takes{' '}
      <span className="number">
        <TextInput
          label="Per cent off for each begun day"
          mono
          placeholder="0"
          value={rule ? String(rule.percentPerDay) : ''}
          strict
          check={percentProblem}
          onCommit={(text) => {
            if (text === '' || numberOf(text) === 0) onSet(undefined);
            else if (PERCENT.test(text)) onSet({ ...rule, percentPerDay: numberOf(text) });
          }}
        />
      </span>
      % of the points off
      {rule && (
        <>
          , at most{' '}
          <span className="number">
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
          </span>
          % in all
        </>
      )}
      .
    </Sentence>
  );
}
