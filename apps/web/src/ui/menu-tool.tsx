import { Menu, MenuItem } from '@mui/material';
import { IconDots } from '@tabler/icons-react';
import { useState } from 'react';
import { IconTool } from './icon-tool';

/** What is done seldom, behind one button. */
export function MenuTool({ entries }: { entries: readonly { text: string; run: () => void }[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <IconTool title="More" name="More" onClick={(event) => setAnchor(event.currentTarget)}>
        <IconDots size={18} />
      </IconTool>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {entries.map((one) => (
          <MenuItem
            key={one.text}
            onClick={() => {
              setAnchor(null);
              one.run();
            }}
          >
            {one.text}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
