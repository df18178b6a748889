import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Radio,
  RadioGroup,
  Typography,
} from '@mui/material';
import { plural } from '@sobrin/core';
import { type DrawingChange, changeWords, drawingChanges } from '@sobrin/core/editing';
import { type Topology, placeInDrawing } from '@sobrin/core/topology';
import { useMemo, useState } from 'react';
import { Drawing } from '../../drawing/drawing';
import { type Marks } from '../../drawing/marks';
import { marksAfter } from './changes';
import { useBench } from '../use-bench';

const LENSES = { ends: false, subnets: false, cables: false };
type Whose = 'mine' | 'theirs';

/** One thing that two changed, with what each made of it, in words. */
interface Contested {
  key: string;
  name: string;
  mine: string;
  theirs: string;
}

const keyOf = (place: readonly string[]): string => place.slice(0, 2).join(' ');

/** What became of a thing: what differs, or that it came or went. */
function wordsOf(changes: readonly DrawingChange[], [map, id]: readonly string[]): string {
  const found = changes.find((change) => change.id === (id ?? '') && (id === undefined || `${change.sort}s` === map));
  if (!found) return 'as it was';
  return found.what === 'changed' ? found.details.join(', ') : found.what;
}

/** Two changes of the same things: of each one says whose holds. Everything else of both is put together already. */
export default function ConflictDialog() {
  const { save, document: topology, decide, refusal } = useBench((state) => state);
  const met = save.kind === 'conflict' ? save : null;
  const [chosen, setChosen] = useState<ReadonlyMap<string, Whose>>(new Map());
  const [isSending, setIsSending] = useState(false);
  const { mine, theirs, things } = useMemo(() => {
    if (!met) return { mine: [], theirs: [], things: [] };
    const { before, theirs: saved } = met.conflict;
    const [mine, theirs] = [drawingChanges(before, topology), drawingChanges(before, saved)];
    const places = new Map(met.merge.contests.map(({ place }) => [keyOf(place), place.slice(0, 2)]));
    const things = [...places].map(([key, place]): Contested => {
      const of = [topology, saved, before].find((drawing) => !placeInDrawing(place, drawing).includes(' › '));
      return {
        key,
        name: place.length > 1 ? placeInDrawing(place, of ?? before) : 'the drawing',
        mine: wordsOf(mine, place),
        theirs: wordsOf(theirs, place),
      };
    });
    return { mine, theirs, things };
  }, [met, topology]);
  if (!met) return null;
  const who = met.conflict.by.join(', ') || 'Somebody';
  const whoseIs = (key: string): Whose => chosen.get(key) ?? 'mine';
  const send = (isMine: (key: string) => boolean): void => {
    setIsSending(true);
    void decide(({ place }) => isMine(keyOf(place))).finally(() => setIsSending(false));
  };
  return (
    <Dialog open maxWidth="lg" fullWidth>
      <DialogTitle>{plural(things.length, 'thing')} changed by two</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1.5 }}>
          {who} saved a change of what you changed as well. Say whose holds. Everything else of both is kept, and both
          versions stay among the versions by name.
        </Typography>
        <Box sx={{ maxHeight: 240, overflow: 'auto', mb: 2 }}>
          {things.map(({ key, name, ...words }) => (
            <RadioGroup
              key={key}
              aria-label={name}
              value={whoseIs(key)}
              onChange={(_event, whose) => setChosen(new Map(chosen).set(key, whose as Whose))}
              sx={{
                display: 'grid',
                gridTemplateColumns: '180px 1fr 1fr',
                flexDirection: 'row',
                alignItems: 'center',
                columnGap: 2,
                borderBottom: '1px solid var(--line)',
              }}
            >
              <Typography sx={{ fontWeight: 700 }}>{name}</Typography>
              <FormControlLabel value="mine" control={<Radio size="small" />} label={`Yours: ${words.mine}`} />
              <FormControlLabel value="theirs" control={<Radio size="small" />} label={`Saved: ${words.theirs}`} />
            </RadioGroup>
          ))}
        </Box>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2 }}>
          <Version title="Yours, in this tab" topology={topology} changes={mine} marks={marksAfter(mine)} />
          <Version
            title="The one saved in between"
            topology={met.conflict.theirs}
            changes={theirs}
            marks={marksAfter(theirs)}
          />
        </Box>
        {refusal !== null && (
          <Alert severity="error" sx={{ mt: 2 }}>
            {refusal}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        {things.length > 1 && (
          <>
            <Button disabled={isSending} onClick={() => send(() => false)}>
              Take the saved one of each
            </Button>
            <Button disabled={isSending} onClick={() => send(() => true)}>
              Keep mine of each
            </Button>
          </>
        )}
        <Button variant="contained" disabled={isSending} onClick={() => send((key) => whoseIs(key) === 'mine')}>
          Go on with what is chosen
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Version({
  title,
  topology,
  changes,
  marks,
}: {
  title: string;
  topology: Topology;
  changes: readonly DrawingChange[];
  marks: Marks;
}) {
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      <Box sx={{ height: 220, border: '1px solid var(--line)', borderRadius: '12px', overflow: 'hidden' }}>
        <Drawing topology={topology} label={title} lenses={LENSES} marks={marks} />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        {changeWords(changes)}
      </Typography>
    </Box>
  );
}
