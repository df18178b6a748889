import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { rebase } from '@sobrin/core/plan';
import { useMemo } from 'react';
import { usePlan, usePlanSetting } from '../use-plan';

/** Two people took the same thing: both takers are shown, and one says what becomes of one's own. Nothing was overwritten. */
export function MeetingDialog() {
  const { save, unconfirmed, decide, refusal } = usePlan((state) => state);
  const { brief } = usePlanSetting();
  const conflict = save.kind === 'conflict' ? save.conflict : null;
  const done = useMemo(() => conflict && rebase(conflict.theirs, unconfirmed, brief), [conflict, unconfirmed, brief]);
  if (!conflict || !done) return null;
  const who = conflict.by.join(', ') || 'somebody';
  return (
    <Dialog open maxWidth="sm" fullWidth>
      <DialogTitle>Taken by two</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1.5 }}>
          While your changes were on their way, {who} saved others.{' '}
          {done.met.length ? 'These were taken by both:' : 'They change the same things:'}
        </Typography>
        {done.met.length > 0 ? (
          <Box
            component="table"
            sx={{
              width: '100%',
              borderCollapse: 'collapse',
              '& td, & th': { textAlign: 'left', py: '4px', pr: 2, borderBottom: '1px solid var(--line)' },
              '& th': { fontSize: 12, color: 'var(--ink2)' },
            }}
          >
            <thead>
              <tr>
                <th>What</th>
                <th>Saved</th>
                <th>Yours</th>
              </tr>
            </thead>
            <tbody>
              {done.met.map((meeting, at) => (
                <tr key={at}>
                  <td className="mono">{meeting.what}</td>
                  <td>{meeting.theirs || '(no name)'}</td>
                  <td>{meeting.mine || '(no name)'}</td>
                </tr>
              ))}
            </tbody>
          </Box>
        ) : (
          <Typography className="mono">{conflict.places.slice(0, 8).join(', ')}</Typography>
        )}
        <Typography color="text.secondary" sx={{ mt: 1.5 }}>
          Everything else of both is kept in each case.
        </Typography>
        {refusal !== null && <Alert severity="error">{refusal}</Alert>}
      </DialogContent>
      <DialogActions sx={{ flexWrap: 'wrap', gap: 1, justifyContent: 'start', px: 3, pb: 2 }}>
        {done.instead.length > 0 && (
          <Button variant="contained" autoFocus onClick={() => void decide([...done.kept, ...done.instead])}>
            Give mine the next free {done.instead.length === 1 ? 'one' : 'ones'}
          </Button>
        )}
        <Button variant="outlined" onClick={() => void decide(done.kept)}>
          Leave what was saved, drop mine of these
        </Button>
        <Button variant="outlined" onClick={() => void decide(() => true)}>
          Put mine of these in place of what was saved
        </Button>
      </DialogActions>
    </Dialog>
  );
}
