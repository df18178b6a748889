import { Alert, Button, Stack } from '@mui/material';
import { type Troubled, SaveTrouble, inTheWay } from '../documents/tools';

interface Part extends Troubled {
  save: { kind: string; text?: string; conflict?: { by: readonly string[]; places: readonly string[] } };
  refusal: string | null;
  decide: (isMine: () => boolean) => Promise<void>;
}

/** What stands in the way of saving a part of a lab, and what can be done. */
export function PartTrouble({ part, what }: { part: Part; what: string }) {
  const { save, refusal } = part;
  return (
    <>
      <SaveTrouble state={part} what={what} />
      {save.kind === 'conflict' && save.conflict && (
        <Alert
          severity="warning"
          sx={inTheWay}
          action={
            <Stack direction="row">
              <Button onClick={() => void part.decide(() => false)}>Take theirs</Button>
              <Button onClick={() => void part.decide(() => true)}>Keep mine</Button>
            </Stack>
          }
        >
          {save.conflict.by.join(', ') || 'Somebody'} saved a change of what you changed as well (
          {save.conflict.places.slice(0, 3).join(', ')}). Say whose holds there; everything else of both is kept.
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
