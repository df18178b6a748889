import { Typography } from '@mui/material';
import { type Policy, type Spec, hintedIn, triableTasks } from '@sobrin/core/spec';
import { TextInput } from '../ui/fields';
import { Sentence } from '../ui/sentence';
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
        <span className="number">
          <TextInput
            label="Tries"
            mono
            placeholder="0"
            value={tries === undefined ? '' : String(tries)}
            strict
            check={(text) => (TRIES.test(text) ? null : 'A number from 1 to 20; leave it empty for none.')}
            onCommit={(text) =>
              (text === '' || TRIES.test(text)) && onSet({ tries: text === '' ? undefined : Number(text) })
            }
          />
        </span>
        {tries === 1 ? 'time' : 'times'} whether it is right{tries !== undefined && '; what is tried last holds'}.
      </Sentence>
      {tries !== undefined && triableTasks(spec).length === 0 && (
        <Nothing>The spec asks for no choice and no number: there is nothing to try.</Nothing>
      )}
      <Sentence>
        A hint of the spec costs them{' '}
        <span className="number">
          <TextInput
            label="What a hint costs"
            mono
            placeholder="–"
            value={hintCost === undefined ? '' : String(hintCost)}
            strict
            check={(text) =>
              POINTS.test(text) ? null : 'Points, a number from 0 to 100; leave it empty where none are given.'
            }
            onCommit={(text) => {
              if (text === '') onSet({ hintCost: undefined });
              else if (POINTS.test(text)) onSet({ hintCost: Number(text.replace(',', '.')) });
            }}
          />
        </span>
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
