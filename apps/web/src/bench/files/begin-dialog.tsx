import {
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
import { type Built, beginningOf } from '@sobrin/core/bench';
import { useState } from 'react';
import { api } from '../../api/client';
import { readDrawing } from '../../api/documents';
import { useChange, useCourses } from '../../api/queries';
import { useShownLab } from '../../lab/lab-shell';
import { Failure, Waiting } from '../../ui/states';
import { type Found } from './drawing-files';

const BUILT: readonly { built: Built; text: string; use: string }[] = [
  { built: 'all', text: 'Everything', use: 'devices, links, addresses and all settings' },
  { built: 'cabled', text: 'Cabled, not configured', use: 'devices and links; addresses and settings are to be made' },
  { built: 'placed', text: 'Devices only', use: 'in their places, without links' },
];

/** The reference of another lab, or a part of it, as the beginning of this one; shown before anything is taken. */
export default function BeginDialog({ onRead, onClose }: { onRead: (found: Found) => void; onClose: () => void }) {
  const { id: here } = useShownLab();
  const courses = useCourses();
  const [from, setFrom] = useState<{ id: string; title: string } | null>(null);
  const [built, setBuilt] = useState<Built>('all');
  const read = useChange(async ({ id, title }: { id: string; title: string }) => {
    const { referenceId } = await api('GET labs/:id', { id });
    const { document } = await readDrawing(referenceId);
    onRead({ file: `Reference of ${title}`, read: { topology: beginningOf(document, built), left: [] } });
  });
  const labs = courses.data?.flatMap(({ title: course, labs: own }) =>
    own.filter((summary) => summary.id !== here).map(({ id, title }) => ({ id, title, course })),
  );
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ pb: 0.5 }}>Begin from another lab</DialogTitle>
      <DialogContent>
        {courses.isPending ? (
          <Waiting what="Looking for labs" />
        ) : courses.isError ? (
          <Failure error={courses.error} onAgain={() => void courses.refetch()} />
        ) : labs!.length === 0 ? (
          <Typography color="text.secondary">There is no other lab yet.</Typography>
        ) : (
          <>
            <RadioGroup
              aria-label="Lab"
              value={from?.id ?? ''}
              onChange={(_event, id) => setFrom(labs!.find((lab) => lab.id === id) ?? null)}
              sx={{ maxHeight: 240, overflowY: 'auto', flexWrap: 'nowrap' }}
            >
              {labs!.map(({ id, title, course }) => (
                <Choice key={id} value={id} text={title} use={course} />
              ))}
            </RadioGroup>
            <Typography variant="h2" sx={{ mt: 2, mb: 0.5 }}>
              What of it
            </Typography>
            <RadioGroup aria-label="What of it" value={built} onChange={(_event, value) => setBuilt(value as Built)}>
              {BUILT.map((starter) => (
                <Choice key={starter.built} value={starter.built} text={starter.text} use={starter.use} />
              ))}
            </RadioGroup>
          </>
        )}
        {read.error && <Failure error={read.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!from || read.isPending} onClick={() => from && read.mutate(from)}>
          Look at it first
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Choice({ value, text, use }: { value: string; text: string; use: string }) {
  return (
    <FormControlLabel
      value={value}
      control={<Radio size="small" />}
      label={
        <Box component="span">
          <b>{text}</b>&ensp;
          <Typography component="span" variant="body2" color="text.secondary">
            {use}
          </Typography>
        </Box>
      }
    />
  );
}
