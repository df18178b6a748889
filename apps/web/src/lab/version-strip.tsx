import { Alert, Button, Stack } from '@mui/material';
import { type LabView } from '@sobrin/contracts';
import { useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { AskDialog } from '../ui/ask-dialog';
import { Failure } from '../ui/states';
import { useReadOnly } from '../documents/read-only';
import { whenIn } from '../ui/words';
import { TrialDialog } from './trial-dialog';

/** What is read anew when another version judges. */
export const judgedAnew = (lab: string): unknown[][] => [
  ['lab', lab],
  ['class', lab],
  ['results', lab],
  ['submission'],
  ['courses'],
  ['versions', lab],
];

/** One line: sign, sentence and button at one height. */
const LINE = { alignItems: 'center', py: 0, '& .MuiAlert-action': { py: 0.5, pt: 0.5 } };

/**
 * What an instructor must know of the lab and its class: that students do not see it yet, or that it judges otherwise by
 * now than the version by which they are judged. Nothing where neither is so.
 */
export function VersionStrip({ lab, isSaved = true }: { lab: LabView; isSaved?: boolean }) {
  const [asking, setAsking] = useState(false);
  const [isTrying, setTrying] = useState(false);
  const release = useChange(() => api('POST labs/:id/release', { id: lab.id }), ...judgedAnew(lab.id));
  const final = useChange(() => api('POST labs/:id/versions', { id: lab.id }), ...judgedAnew(lab.id));
  const readOnly = useReadOnly();
  const { version, versions, isChanged } = lab;
  const error = release.error ?? final.error;
  if (lab.releasedAt && !isChanged && !error && !readOnly) return null;
  return (
    <Stack sx={{ p: 1, pb: 0, gap: 1 }}>
      {error && <Failure error={error} />}
      {readOnly && (
        <Alert severity="info" variant="outlined" sx={LINE}>
          {readOnly}
        </Alert>
      )}
      {!lab.releasedAt && (
        <Alert
          severity="info"
          variant="outlined"
          sx={LINE}
          action={
            lab.teaches && (
              <Button variant="contained" disabled={release.isPending} onClick={() => setAsking(true)}>
                Release to the class
              </Button>
            )
          }
        >
          Students do not see this lab yet.
        </Alert>
      )}
      {isChanged && version && (
        <Alert
          severity="warning"
          variant="outlined"
          sx={LINE}
          action={
            lab.teaches && (
              <>
                <Button disabled={final.isPending || !isSaved} onClick={() => setTrying(true)} sx={{ mr: 1 }}>
                  Try it on the class
                </Button>
                <Button variant="outlined" disabled={final.isPending || !isSaved} onClick={() => setAsking(true)}>
                  Make it final
                </Button>
              </>
            )
          }
        >
          The class is judged by version {version.number} of {whenIn(lab.timeZone, version.madeAt)}. The lab has been
          changed since.
        </Alert>
      )}
      <AskDialog
        open={asking && !lab.releasedAt}
        title="Release to the class?"
        yes="Release"
        onClose={() => setAsking(false)}
        onYes={() => release.mutate(undefined)}
      >
        Students see brief and tasks from now on and can hand in. The spec and the reference as they are now become
        version 1, by which they are judged.
      </AskDialog>
      {isTrying && (
        <TrialDialog labId={lab.id} onFinal={() => final.mutate(undefined)} onClose={() => setTrying(false)} />
      )}
      <AskDialog
        open={asking && isChanged}
        title="Make the lab final as it is now?"
        yes="Make it final"
        onClose={() => setAsking(false)}
        onYes={() => final.mutate(undefined)}
      >
        It judges the class from now on, as version {versions + 1} unless an earlier one judged alike. Results of
        version {version?.number} stay as they are and are marked until they are checked again.
      </AskDialog>
    </Stack>
  );
}
