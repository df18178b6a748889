import { Box, Button, Stack, Typography } from '@mui/material';
import { IconBulb } from '@tabler/icons-react';
import { type HintsView, type StudentLabView, type TriesView } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { useState } from 'react';
import { api } from '../api/client';
import { newId } from '../api/new-id';
import { useChange } from '../api/queries';
import { AskDialog } from '../ui/ask-dialog';
import { Failure } from '../ui/states';
import { VerdictSign } from '../ui/verdict';

/** Asks whether an answer is right, as long as there are tries; and what came of the last one. */
export function TryIt({
  lab,
  task,
  nth,
  answer,
  most,
  tried: { used, last, settled },
  onSend,
}: {
  lab: StudentLabView;
  task: string;
  nth: number;
  answer: string;
  most: number;
  tried: TriesView['tasks'][string];
  /** Sends what was typed, so that what is tried is what stands there. */
  onSend: () => Promise<unknown>;
}) {
  /** The id of the question; asking again after a lost answer asks the same. */
  const [id, setId] = useState(newId);
  const ask = useChange(async () => {
    await onSend();
    const told = await api('POST my/labs/:id/tries', { id: lab.id }, { id, drawing: lab.documentId, task, answer });
    setId(newId());
    return told;
  }, ['my-lab', lab.id]);
  const left = Math.max(0, most - used);
  return (
    <>
      <Stack direction="row" spacing={1} useFlexGap sx={{ mt: 0.5, alignItems: 'center', flexWrap: 'wrap' }}>
        {settled === null && (
          <Button
            size="small"
            variant="outlined"
            aria-label={`Is it right? Task ${nth}`}
            disabled={ask.isPending || !answer.trim() || answer === last?.answer}
            onClick={() => ask.mutate(undefined)}
          >
            Is it right?
          </Button>
        )}
        <Typography variant="body2" color="text.secondary">
          {settled === null ? `${plural(left, 'try', 'tries')} left` : 'All tries are used: this answer is handed in.'}
        </Typography>
        {last && (
          <Stack direction="row" spacing={0.5} role="status" sx={{ alignItems: 'center', minWidth: 0 }}>
            <VerdictSign verdict={last.right ? 'met' : 'lost'} />
            <Typography variant="body2" sx={{ overflowWrap: 'anywhere' }}>
              {last.answer} is {last.right ? 'right' : 'not right'}
            </Typography>
          </Stack>
        )}
      </Stack>
      {ask.isError && <Failure error={ask.error} />}
    </>
  );
}

/** The hints that belong to a task, or to none: those that were asked for, and asking for the next. */
export function Hints({
  lab,
  hints: { cost, of },
  about,
}: {
  lab: StudentLabView;
  /** Only those of this place. */
  hints: HintsView;
  /** What they are about, as in "task 2". */
  about: string;
}) {
  const [id, setId] = useState(newId);
  const [isAsked, setAsked] = useState(false);
  const ask = useChange(
    async (key: string) => {
      const told = await api('POST my/labs/:id/hints', { id: lab.id }, { id, drawing: lab.documentId, key, cost });
      setId(newId());
      return told;
    },
    ['my-lab', lab.id],
  );
  // Of several matters each is hinted at before one of them is told more of.
  const [next] = of.filter(({ left }) => left > 0).sort((one, other) => one.told.length - other.told.length);
  const left = of.reduce((sum, each) => sum + each.left, 0);
  const told = of.flatMap((each) => each.told).sort((one, other) => (one.at < other.at ? -1 : 1));
  const words = `A hint${cost ? `, ${plural(cost, 'point')}` : ''} (${left} left)`;
  const take = (): void => next && ask.mutate(next.key);
  return (
    <Box sx={{ mt: 0.5 }}>
      <div role="status">
        {told.length > 0 && (
          <Stack
            component="ul"
            aria-label={`Hints, ${about}`}
            spacing={0.5}
            sx={{
              listStyle: 'none',
              m: 0,
              mb: 0.5,
              px: 1,
              py: 0.75,
              borderRadius: '6px',
              background: 'var(--ochre-tint)',
            }}
          >
            {told.map(({ text }, nth) => (
              <li key={nth}>{text}</li>
            ))}
          </Stack>
        )}
      </div>
      {next && (
        <Button
          size="small"
          startIcon={<IconBulb size={16} />}
          disabled={ask.isPending}
          aria-label={`${words}: ${about}`}
          onClick={() => (cost ? setAsked(true) : take())}
        >
          {words}
        </Button>
      )}
      {ask.isError && <Failure error={ask.error} />}
      <AskDialog open={isAsked} title="Take a hint?" yes="Take it" onClose={() => setAsked(false)} onYes={take}>
        It costs {plural(cost, 'point')} of every attempt that you hand in after it, and cannot be given back.
      </AskDialog>
    </Box>
  );
}

/** The hints of one place of a lab: of a task, or of none; null where there are none. */
export function hintsAt(hints: HintsView | null, task: string | null): HintsView | null {
  const of = hints?.of.filter((each) => each.task === task) ?? [];
  return hints && of.length ? { ...hints, of } : null;
}
