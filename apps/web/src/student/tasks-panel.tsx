import { Box, Button, FormControlLabel, Radio, RadioGroup, Stack, Typography } from '@mui/material';
import { type StudentLabView } from '@sobrin/contracts';
import { useStore } from 'zustand';
import { TextInput } from '../ui/fields';
import { MarkdownText } from '../ui/markdown';
import { Panel } from '../ui/panel';
import { Waiting } from '../ui/states';
import { type AnswersState, type AnswersStore, answerOf } from './answers';
import { useAnswers } from './use-answers';

const MOST_LETTERS = 20_000;

/** What is asked, task by task, with the answers. */
export function TasksPanel({ lab }: { lab: StudentLabView }) {
  const answers = useAnswers(lab);
  if (!answers)
    return (
      <Panel title="Tasks">
        <Waiting what="Opening your answers" />
      </Panel>
    );
  return <Tasks lab={lab} store={answers} />;
}

function Tasks({ lab, store }: { lab: StudentLabView; store: AnswersStore }) {
  const answers = useStore(store);
  const { choices } = lab;
  return (
    <Panel title="Tasks" aside={lab.tasks.length > 0 && <span role="status">{stateWords(answers)}</span>}>
      <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 2, pt: 1 }}>
        {lab.tasks.map((task, at) => {
          const { text, elsewhere } = answerOf(answers, task.id);
          return (
            <Box component="li" key={task.id} sx={{ py: 1, borderTop: at ? '1px solid var(--line)' : 0 }}>
              <Box sx={{ mb: 0.75, display: 'grid', gridTemplateColumns: '22px minmax(0, 1fr)' }}>
                <Box component="b" className="mono" sx={{ lineHeight: '20px' }}>
                  {at + 1}
                </Box>
                <MarkdownText text={task.text} labId={lab.id} />
              </Box>
              {choices[task.id] ? (
                <Choices
                  task={at + 1}
                  choices={choices[task.id]!}
                  chosen={text}
                  onChoose={(choice) => {
                    answers.type(task.id, choice);
                    void answers.flush();
                  }}
                />
              ) : (
                <TextInput
                  label={`Answer to task ${at + 1}`}
                  multiline
                  maxLength={MOST_LETTERS}
                  placeholder="Your answer, if one is asked for"
                  value={text}
                  onDraft={(typed) => answers.type(task.id, typed)}
                  onCommit={(typed) => answers.type(task.id, typed)}
                  onLeave={() => void answers.flush()}
                />
              )}
              {elsewhere !== null && (
                <Elsewhere task={at + 1} text={elsewhere} onChoose={(whose) => answers.choose(task.id, whose)} />
              )}
            </Box>
          );
        })}
        {lab.tasks.length === 0 && <Typography color="text.secondary">There are no tasks yet.</Typography>}
        {answers.trouble !== null && (
          <Typography role="alert" sx={{ color: 'var(--brick)', pt: 1 }}>
            Not saved yet, and kept in this browser: {answers.trouble}
          </Typography>
        )}
      </Box>
    </Panel>
  );
}

/** One of several answers; what was written before there were choices stays to be seen, and can be chosen otherwise. */
function Choices({
  task,
  choices,
  chosen,
  onChoose,
}: {
  task: number;
  choices: readonly string[];
  chosen: string;
  onChoose: (choice: string) => void;
}) {
  const written = chosen.trim() !== '' && !choices.includes(chosen) ? [chosen] : [];
  return (
    <RadioGroup aria-label={`Answer to task ${task}`} value={chosen} onChange={(_event, choice) => onChoose(choice)}>
      {[...written, ...choices].map((choice) => (
        <FormControlLabel
          key={choice}
          value={choice}
          control={<Radio size="small" sx={{ py: 0.5 }} />}
          label={written.includes(choice) ? `${choice} (no longer one of the choices)` : choice}
        />
      ))}
    </RadioGroup>
  );
}

/** An answer that was saved elsewhere, another tab or machine, while it was typed here. */
function Elsewhere({
  task,
  text,
  onChoose,
}: {
  task: number;
  text: string;
  onChoose: (whose: 'mine' | 'theirs') => void;
}) {
  return (
    <Stack
      role="group"
      aria-label={`Two answers to task ${task}`}
      spacing={0.5}
      sx={{ mt: 0.5, p: 1, borderRadius: '6px', background: 'var(--ochre-tint)' }}
    >
      <Typography variant="body2">
        Saved elsewhere while you typed here:{' '}
        {text === '' ? 'no text' : <q style={{ whiteSpace: 'pre-wrap' }}>{text}</q>}
      </Typography>
      <Stack direction="row" spacing={1}>
        <Button size="small" onClick={() => onChoose('theirs')}>
          Take that one
        </Button>
        <Button size="small" onClick={() => onChoose('mine')}>
          Save what I typed
        </Button>
      </Stack>
    </Stack>
  );
}

function stateWords({ drafts, isSending, trouble }: AnswersState): string {
  if (trouble !== null) return 'not saved yet';
  return isSending || Object.keys(drafts).length ? 'saving' : 'saved';
}
