import { Alert, Button, Stack } from '@mui/material';
import { SaveTrouble, inTheWay } from '../documents/tools';

interface Trouble {
  save: { kind: string; text?: string; conflict?: { message: string; by: readonly string[] } };
  refusal: string | null;
  dismiss: () => void;
  retry: () => void;
  giveUp: () => Promise<void>;
  keepMine: () => void;
  takeTheirs: () => void;
}

/** What stands in the way of saving a part of a lab, and what can be done. */
export function PartTrouble({ part, what }: { part: Trouble; what: string }) {
  const { save, refusal } = part;
  return (
    <>
      <SaveTrouble save={save} what={what} onRetry={part.retry} onGiveUp={part.giveUp} />
      {save.kind === 'conflict' && save.conflict && (
        <Alert
          severity="warning"
          sx={inTheWay}
          action={
            <Stack direction="row">
              <Button onClick={() => part.takeTheirs()}>Take theirs</Button>
              <Button onClick={() => part.keepMine()}>Keep mine</Button>
            </Stack>
          }
        >
          {save.conflict.message} {save.conflict.by.length > 0 && `By ${save.conflict.by.join(', ')}.`}
        </Alert>
      )}
      {refusal !== null && (
        <Alert severity="error" variant="outlined" sx={{ m: 1 }} onClose={part.dismiss}>
          {refusal}
        </Alert>
      )}
    </>
  );
}
