import { Menu, MenuItem } from '@mui/material';
import { IconCheck, IconDots } from '@tabler/icons-react';
import { type ReactNode, useState } from 'react';
import { IconTool } from './icon-tool';

interface Entry {
  text: string;
  keys?: string;
  off?: boolean;
  /** For entries that are on or off. */
  checked?: boolean;
  run: () => void;
}

/** A menu behind one button: what is done seldom, unless it is named otherwise. */
export function MenuTool({
  name = 'More',
  icon = <IconDots size={18} />,
  entries,
}: {
  name?: string;
  icon?: ReactNode;
  entries: readonly Entry[];
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <IconTool title={name} name={name} onClick={(event) => setAnchor(event.currentTarget)}>
        {icon}
      </IconTool>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {entries.map((entry) => (
          <MenuItem
            key={entry.text}
            disabled={entry.off ?? false}
            {...(entry.checked !== undefined && { role: 'menuitemcheckbox', 'aria-checked': entry.checked })}
            onClick={() => {
              setAnchor(null);
              entry.run();
            }}
            sx={{ gap: 3, justifyContent: 'space-between' }}
          >
            {entry.text}
            {entry.keys && <kbd>{entry.keys}</kbd>}
            {entry.checked && <IconCheck size={16} aria-hidden />}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
