import { Button } from '@mui/material';
import { IconCheck, IconCopy } from '@tabler/icons-react';
import copy from 'copy-to-clipboard';
import { useState } from 'react';

const WORDS = { ready: 'Copy', done: 'Copied', refused: 'Not copied' } as const;

/** Puts a text into the clipboard, also on a page that comes without TLS; `name` tells it from others of its sort. */
export function CopyButton({ text, name }: { text: string; name?: string }) {
  const [state, setState] = useState<keyof typeof WORDS>('ready');
  const words = WORDS[state];
  return (
    <Button
      size="small"
      startIcon={state === 'done' ? <IconCheck size={16} /> : <IconCopy size={16} />}
      aria-label={name && `${words}: ${name}`}
      onClick={() => void copy(text).then((done) => setState(done ? 'done' : 'refused'))}
    >
      {words}
    </Button>
  );
}
