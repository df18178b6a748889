import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { plural } from '@sobrin/core';
import { Failure } from '../ui/states';
import { points } from '../ui/words';
import { type Tried, isOtherMark } from './trial';
import { type Trial, useTrial } from './use-trial';

/** Whose mark a lab as it is saved would change, from what to what, and by which requirement. */
export function TrialDialog({ labId, onFinal, onClose }: { labId: string; onFinal: () => void; onClose: () => void }) {
  const trial = useTrial(labId);
  const { of, tried, failed, error } = trial;
  const done = tried.length + failed.length;
  const isDone = of !== null && done >= of;
  const changed = tried.filter(isOtherMark).sort((one, other) => shiftOf(other) - shiftOf(one) || byName(one, other));
  return (
    <Dialog open onClose={(_event, reason) => reason !== 'backdropClick' && onClose()} maxWidth="md" fullWidth>
      <DialogTitle>What would change for the class</DialogTitle>
      <DialogContent>
        {error !== null && <Failure error={error} />}
        {!isDone && error === null && (
          <Box sx={{ mb: 2 }}>
            <Typography sx={{ mb: 1 }}>
              {of === null
                ? 'Everybody’s attempt that counts is judged by the lab as it is now.'
                : `Everybody’s attempt that counts is judged by the lab as it is now: ${done} of ${of}.`}
            </Typography>
            <LinearProgress
              aria-label="How many have been judged"
              variant={of ? 'determinate' : 'indeterminate'}
              value={of ? (100 * done) / of : 0}
            />
          </Box>
        )}
        {isDone && (
          <Typography role="status" sx={{ mb: 2 }}>
            {summary(trial, changed)}
          </Typography>
        )}
        {failed.length > 0 && (
          <Alert severity="warning" variant="outlined" sx={{ mb: 2 }}>
            {failed.join(', ')} could not be judged.
          </Alert>
        )}
        {changed.length > 0 && (
          <Table size="small" aria-label="Marks that would change">
            <TableHead>
              <TableRow>
                <TableCell>Student</TableCell>
                <TableCell align="right">Now</TableCell>
                <TableCell align="right">Then</TableCell>
                <TableCell>By</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {changed.map((each) => (
                <Row key={each.submissionId} tried={each} />
              ))}
            </TableBody>
          </Table>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it is</Button>
        <Button
          variant="contained"
          disabled={!isDone}
          onClick={() => {
            onClose();
            onFinal();
          }}
        >
          Make it final
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const byName = (one: Tried, other: Tried): number => one.student.localeCompare(other.student);
/** How far the share of the total moves. */
const shiftOf = ({ now, then }: Tried): number => (now ? Math.abs(shareOf(then) - shareOf(now)) : 0);
const shareOf = ({ points: won, of }: Tried['then']): number => (of ? won / of : 0);

function summary({ tried }: Trial, changed: readonly Tried[]): string {
  if (!tried.length) return 'Nobody has handed in yet: no mark would change.';
  const all = plural(tried.length, 'attempt');
  return changed.length
    ? `Of ${all} ${changed.length} would have another mark.`
    : `No mark would change: ${all} tried.`;
}

const mark = (of: Tried['now']): string => (of ? `${points(of.points)} of ${points(of.of)}` : 'not checked');

function Row({ tried: { student, now, then, changes } }: { tried: Tried }) {
  return (
    <TableRow sx={{ '& td': { verticalAlign: 'top' } }}>
      <TableCell component="th" scope="row">
        {student}
      </TableCell>
      <TableCell align="right" className="mono" sx={{ whiteSpace: 'nowrap' }}>
        {mark(now)}
      </TableCell>
      <TableCell align="right" className="mono" sx={{ whiteSpace: 'nowrap', fontWeight: 650 }}>
        {mark(then)}
      </TableCell>
      <TableCell>
        {changes.map(({ id, sentence, now: was, then: becomes }) => (
          <Typography key={id} variant="body2">
            <b className="mono">{id}</b>{' '}
            <span className="mono">
              {was === null ? 'new' : points(was)} → {becomes === null ? 'gone' : points(becomes)}
            </span>{' '}
            {sentence}
          </Typography>
        ))}
      </TableCell>
    </TableRow>
  );
}
