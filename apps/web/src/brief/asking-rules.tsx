import { Typography } from '@mui/material';
import { type Policy, type Spec, hintedIn, triableTasks } from '@sobrin/core/spec';
import { Sentence } from '../ui/sentence';
import { RuleNumber } from './rule-number';
import { type SetRules } from './rules-group';

const TRIES = /^([1-9]|1\d|20)$/;
const POINTS = /^(100|\d{1,2}([.,]\d{1,2})?)$/;

/** What students may ask while they work: whether an answer is right, and for the hints of the spec. */
export function AskingRules({ policy, spec, onSet }: { policy: Policy; spec: Spec; onSet: SetRules }) {
  const { tries, hintCost } = policy;
  return (
    <>
      <Sentence>
        Of each choice and number that they answer they may ask{' '}
        <RuleNumber
          label="Tries"
          value={tries}
          shape={TRIES}
          problem="A number from 1 to 20; leave it empty for none."
          empty="0"
          onSet={(value) => onSet({ tries: value })}
        />
        {tries === 1 ? 'time' : 'times'} whether it is right{tries !== undefined && '; what is tried last holds'}.
      </Sentence>
      {tries !== undefined && triableTasks(spec).length === 0 && (
        <Nothing>The spec asks for no choice and no number: there is nothing to try.</Nothing>
      )}
      <Sentence>
        A hint of the spec costs them{' '}
        <RuleNumber
          label="What a hint costs"
          value={hintCost}
          shape={POINTS}
          problem="Points, a number from 0 to 100; leave it empty where none are given."
          empty="–"
          onSet={(value) => onSet({ hintCost: value })}
        />
        points{hintCost === undefined && ': none are given before it is handed in'}.
      </Sentence>
      {hintCost !== undefined && hintedIn(spec).length === 0 && (
        <Nothing>No requirement has a hint: there is none to ask for.</Nothing>
      )}
    </>
  );
}

const Nothing = ({ children }: { children: string }) => (
  <Typography variant="body2" sx={{ color: 'var(--ochre-text)' }}>
    {children}
  </Typography>
);
