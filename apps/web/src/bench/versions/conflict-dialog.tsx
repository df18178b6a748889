import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { changeWords, drawingChanges } from '@sobrin/core/bench';
import { type Topology } from '@sobrin/core/topology';
import { useMemo } from 'react';
import { Drawing } from '../../drawing/drawing';
import { type Marks } from '../../drawing/marks';
import { ChangeList, marksAfter, marksBefore } from './changes';
import { useBench } from '../use-bench';

const LENSES = { ends: false, subnets: false, cables: false };

/** Two changes of the same thing: both versions side by side, and one says which holds. Nothing was overwritten. */
export default function ConflictDialog() {
  const { save, document: topology, keepMine, takeTheirs } = useBench((state) => state);
  const theirs = save.kind === 'conflict' ? save.conflict.theirs : null;
  const changes = useMemo(() => (theirs ? drawingChanges(theirs, topology) : []), [theirs, topology]);
  const [before, after] = useMemo(() => [marksBefore(changes), marksAfter(changes)], [changes]);
  if (save.kind !== 'conflict') return null;
  const { conflict } = save;
  return (
    <Dialog open maxWidth="lg" fullWidth>
      <DialogTitle>Two versions of this drawing</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>{conflict.message}</Typography>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 2 }}>
          <Version title="Yours, in this tab" topology={topology} marks={after} />
          <Version title="The one saved in between" topology={conflict.theirs} marks={before} />
        </Box>
        <Typography variant="h3" sx={{ mt: 2 }}>
          Yours differs from the saved one: {changeWords(changes)}
        </Typography>
        <Box sx={{ height: 150, display: 'flex' }}>
          <ChangeList changes={changes} />
        </Box>
      </DialogContent>
      <DialogActions>
        <Button variant="outlined" onClick={() => takeTheirs()}>
          Take the saved one, drop mine
        </Button>
        <Button variant="contained" onClick={keepMine}>
          Keep mine, replace the saved one
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Version({ title, topology, marks }: { title: string; topology: Topology; marks: Marks }) {
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      <Box sx={{ height: 260, border: '1px solid var(--line)', borderRadius: '12px', overflow: 'hidden' }}>
        <Drawing topology={topology} label={title} lenses={LENSES} marks={marks} />
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        {Object.keys(topology.devices).length} devices, {Object.keys(topology.links).length} links
      </Typography>
    </Box>
  );
}
