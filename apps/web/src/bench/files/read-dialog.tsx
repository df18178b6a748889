import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { changeWords, drawingChanges } from '@sobrin/core/editing';
import { type Imported } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { useMemo } from 'react';
import { ChangeList } from '../versions/changes';

/** What a file would make of the drawing, line by line, before any of it is taken. */
export function ReadDialog({
  file,
  read,
  topology,
  onReplace,
  onAdd,
  onClose,
}: {
  file: string;
  read: Imported;
  /** The drawing as it is. */
  topology: Topology;
  onReplace: () => void;
  /** Puts what is in the file beside what is there. */
  onAdd: () => void;
  onClose: () => void;
}) {
  const changes = useMemo(() => drawingChanges(topology, read.topology), [topology, read.topology]);
  const isBlank = Object.keys(topology.devices).length === 0;
  const isSame = changes.length === 0;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ pb: 0.5 }}>{file}</DialogTitle>
      <DialogContent sx={{ height: 480, display: 'flex', flexDirection: 'column' }}>
        <Typography color="text.secondary" sx={{ mb: 1 }}>
          {isSame
            ? 'The file holds the drawing exactly as it is.'
            : `${read.joined ? 'In the drawing' : 'In place of the drawing'}: ${changeWords(changes)}. Nothing is taken until you say so, and it can be undone.`}
        </Typography>
        {read.left.length > 0 && (
          <Alert severity="warning" sx={{ mb: 1 }}>
            <b>Not read:</b>
            <Box component="ul" sx={{ m: 0, pl: 2.5, maxHeight: 96, overflowY: 'auto' }}>
              {read.left.map((text, at) => (
                <li key={at}>{text}</li>
              ))}
            </Box>
          </Alert>
        )}
        {(read.filled ?? []).length > 0 && (
          <Alert severity="info" sx={{ mb: 1 }}>
            <b>Filled in:</b>
            <Box component="ul" sx={{ m: 0, pl: 2.5, maxHeight: 96, overflowY: 'auto' }}>
              {read.filled!.map((text, at) => (
                <li key={at}>{text}</li>
              ))}
            </Box>
          </Alert>
        )}
        <ChangeList changes={changes} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{isSame ? 'Close' : 'Leave the drawing as it is'}</Button>
        {!isSame && !isBlank && !read.joined && (
          <Button variant="outlined" onClick={onAdd}>
            Add beside what is there
          </Button>
        )}
        {!isSame && (
          <Button variant="contained" onClick={onReplace}>
            {isBlank || read.joined ? 'Take it' : 'Replace the drawing'}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
