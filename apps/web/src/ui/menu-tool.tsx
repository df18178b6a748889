import { Menu } from '@mui/material';
import { IconDots } from '@tabler/icons-react';
import { type ReactNode, useState } from 'react';
import { IconTool } from './icon-tool';
import { type Entry, menuEntries } from './menu-entries';

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
  const close = (): void => setAnchor(null);
  return (
    <>
      <IconTool title={name} name={name} menuOpen={anchor !== null} onClick={(event) => setAnchor(event.currentTarget)}>
        {icon}
      </IconTool>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close} slotProps={{ list: { 'aria-label': name } }}>
        {menuEntries(entries, close)}
      </Menu>
    </>
  );
}
