import { Box, Button, FormControlLabel, Radio, RadioGroup, Stack, Typography } from '@mui/material';
import { type StudentLabView } from '@sobrin/contracts';
import { entryOf } from '@sobrin/core/topology';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { TextInput } from '../ui/fields';
import { MarkdownText } from '../ui/markdown';
import { Panel } from '../ui/panel';
import { Waiting } from '../ui/states';
import { Hints, TryIt, hintsAt } from './asking';
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
  // Of a task that is not there any more, a hint is of none.
  const known = new Set(lab.tasks.map(({ id }) => id));
  const others = hintsAt(
    lab.hints && {
      ...lab.hints,
      of: lab.hints.of.map((each) => ({
        ...each,
        task: each.task !== null && known.has(each.task) ? each.task : null,
      })),
    },
    null,
  );
  // What is still typed here for a task whose tries are used counts no more, wherever they were used.
  useEffect(() => {
    for (const [task, { settled }] of Object.entries(lab.tries?.tasks ?? {}))
      if (settled !== null && answerOf(store.getState(), task).text !== settled)
        store.getState().choose(task, 'theirs');
  }, [lab.tries, answers.stored, store]);
  return (
    <Panel title="Tasks" aside={lab.tasks.length > 0 && <span role="status">{stateWords(answers)}</span>}>
      <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 2, pt: 1 }}>
        {lab.tasks.map((task, at) => {
          const { text: written, elsewhere } = answerOf(answers, task.id);
          const tried = lab.tries && entryOf(lab.tries.tasks, task.id);
          const isSettled = typeof tried?.settled === 'string';
          // Where the right one was tried before the last, that is not what was written last.
          const text = tried?.settled ?? written;
          const hints = hintsAt(lab.hints, task.id);
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
                  isSettled={isSettled}
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
                  disabled={isSettled}
                  onDraft={(typed) => answers.type(task.id, typed)}
                  onCommit={(typed) => answers.type(task.id, typed)}
                  onLeave={() => void answers.flush()}
                />
              )}
              {tried && (
                <TryIt
                  lab={lab}
                  task={task.id}
                  nth={at + 1}
                  answer={text}
                  most={lab.tries!.most}
                  tried={tried}
                  onSend={answers.flush}
                />
              )}
              {hints && <Hints lab={lab} hints={hints} about={`task ${at + 1}`} />}
              {elsewhere !== null && !isSettled && (
                <Elsewhere task={at + 1} text={elsewhere} onChoose={(whose) => answers.choose(task.id, whose)} />
              )}
            </Box>
          );
        })}
        {others && <Hints lab={lab} hints={others} about="your drawing" />}
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
  isSettled,
  onChoose,
}: {
  task: number;
  choices: readonly string[];
  chosen: string;
  isSettled: boolean;
  onChoose: (choice: string) => void;
}) {
  const written = chosen.trim() !== '' && !choices.includes(chosen) ? [chosen] : [];
  return (
    <RadioGroup aria-label={`Answer to task ${task}`} value={chosen} onChange={(_event, choice) => onChoose(choice)}>
      {[...written, ...choices].map((choice) => (
        <FormControlLabel
          key={choice}
          value={choice}
          disabled={isSettled}
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
