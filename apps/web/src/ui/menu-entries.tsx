import { Divider, MenuItem } from '@mui/material';
import { IconCheck } from '@tabler/icons-react';
import { type ReactNode } from 'react';

/** One line of a menu. */
export interface Entry {
  text: string;
  keys?: string;
  off?: boolean;
  /** Those of one group stand together: a line parts them from the next. */
  group?: string;
  /** For entries that are on or off. */
  checked?: boolean;
  run: () => void;
}

/** The lines of a menu, to be put into one: it takes no other children than lines. */
export const menuEntries = (entries: readonly Entry[], onDone: () => void): ReactNode[] =>
  entries.flatMap((entry, at) => [
    ...(at > 0 && entries[at - 1]!.group !== entry.group ? [<Divider key={`before ${entry.text}`} />] : []),
    <MenuItem
      key={entry.text}
      disabled={entry.off ?? false}
      {...(entry.checked !== undefined && { role: 'menuitemcheckbox', 'aria-checked': entry.checked })}
      onClick={() => {
        onDone();
        entry.run();
      }}
      sx={{ gap: 3, justifyContent: 'space-between' }}
    >
      {entry.text}
      {entry.keys && <kbd>{entry.keys}</kbd>}
      {entry.checked && <IconCheck size={16} aria-hidden />}
    </MenuItem>,
  ]);
