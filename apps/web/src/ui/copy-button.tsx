import { Button } from '@mui/material';
import { IconCheck, IconCopy } from '@tabler/icons-react';
import { useState } from 'react';

/** Puts a text into the clipboard; `name` tells it from others of its sort. */
export function CopyButton({ text, name }: { text: string; name?: string }) {
  const [state, setState] = useState<'ready' | 'done' | 'refused'>('ready');
  // Browsers have no clipboard for pages that come without TLS from another machine.
  const copy = async (): Promise<void> => {
    try {
      await navigator.clipboard.writeText(text);
      setState('done');
    } catch {
      setState('refused');
    }
  };
  const words = { ready: 'Copy', done: 'Copied', refused: 'Mark and copy it yourself' }[state];
  return (
    <Button
      size="small"
      startIcon={state === 'done' ? <IconCheck size={16} /> : <IconCopy size={16} />}
      aria-label={name && `${words}: ${name}`}
      onClick={() => void copy()}
    >
      {words}
    </Button>
  );
}
