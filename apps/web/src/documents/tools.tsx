import { Alert, Box, Button } from '@mui/material';
import { IconArrowBackUp, IconArrowForwardUp, IconCheck, IconCloudOff, IconRefresh } from '@tabler/icons-react';
import { IconTool } from '../ui/icon-tool';
import { useState } from 'react';
import { give } from '../api/files';
import { type DocumentState } from './document-store';
import { type Document, type SaveState } from './saver';
import { IF_SMALL } from '../ui/frame';

type History = Pick<DocumentState<Document, object, unknown>, 'undo' | 'redo'> & {
  past: readonly { title: string }[];
  future: readonly { title: string }[];
};

export function HistoryTools({ state: { past, future, undo, redo } }: { state: History }) {
  return (
    <>
      <IconTool
        title={past.length ? `Undo: ${past.at(-1)!.title} (Ctrl Z)` : 'Nothing to undo'}
        name="Undo"
        disabled={!past.length}
        onClick={undo}
      >
        <IconArrowBackUp size={18} />
      </IconTool>
      <IconTool
        title={future.length ? `Redo: ${future[0]!.title} (Ctrl Shift Z)` : 'Nothing to redo'}
        name="Redo"
        disabled={!future.length}
        onClick={redo}
      >
        <IconArrowForwardUp size={18} />
      </IconTool>
    </>
  );
}

/** The bar over a page that says what stands in the way of saving. */
export const inTheWay = { borderRadius: 0, background: 'var(--ochre-tint)', color: 'var(--ink)' };

export type Troubled = Pick<
  DocumentState<Document, object, unknown>,
  'document' | 'retry' | 'giveUp' | 'throwAway' | 'told' | 'dismiss'
> & { save: { kind: string; text?: string } };

/** Says that something is not saved on the server, why, and what to do; or what was put together without asking. */
export function SaveTrouble({ state, what }: { state: Troubled; what: string }) {
  const { save, told } = state;
  /** Where what is refused could not be kept as a version either, a file is left. */
  const [isStuck, setIsStuck] = useState(false);
  if (save.kind !== 'offline' && save.kind !== 'refused')
    return told === null ? null : (
      <Alert severity="info" onClose={state.dismiss} sx={{ ...inTheWay, background: 'var(--surface)' }}>
        {told}
      </Alert>
    );
  return (
    <Alert
      severity="warning"
      action={
        save.kind === 'offline' ? (
          <Button onClick={state.retry}>Try now</Button>
        ) : (
          <>
            <Button onClick={() => give(`${what}.json`, 'application/json', JSON.stringify(state.document, null, 2))}>
              Save mine as a file
            </Button>
            {isStuck ? (
              <Button onClick={() => void state.throwAway()}>Throw mine away</Button>
            ) : (
              <Button onClick={() => void state.giveUp().then((isKept) => setIsStuck(!isKept))}>
                Keep mine as a version, go on with the saved {what}
              </Button>
            )}
          </>
        )
      }
      sx={inTheWay}
    >
      {save.text}
    </Alert>
  );
}

/** Whether everything is safe, as a shape and a word. */
export function SaveSign({ save }: { save: SaveState['kind'] }) {
  const words = {
    saved: 'Saved',
    saving: 'Saving',
    offline: 'Not sent',
    conflict: 'Two versions',
    refused: 'Not saved',
  } as const;
  const icon =
    save === 'saved' ? (
      <IconCheck size={15} />
    ) : save === 'saving' ? (
      <IconRefresh size={15} />
    ) : (
      <IconCloudOff size={15} />
    );
  const bad = save !== 'saved' && save !== 'saving';
  return (
    <Box
      role="status"
      aria-live="polite"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: '4px',
        minWidth: 96,
        justifyContent: 'end',
        [IF_SMALL]: { minWidth: 0 },
        fontSize: 12,
        color: bad ? 'var(--brick)' : 'var(--ink2)',
        fontWeight: bad ? 700 : 400,
      }}
    >
      {icon}
      {words[save]}
    </Box>
  );
}
