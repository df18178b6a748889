import { Box, Button, Divider, Menu, MenuItem, Stack } from '@mui/material';
import {
  IconArrowBackUp,
  IconArrowForwardUp,
  IconCheck,
  IconCloudOff,
  IconDots,
  IconFrame,
  IconInfoCircle,
  IconLink,
  IconPlus,
  IconRefresh,
} from '@tabler/icons-react';
import { type ReactNode, useState } from 'react';
import { type Lenses } from '../drawing/link-layer';
import { IconTool } from '../ui/icon-tool';
import { type SaveState } from './saver';
import { useBench } from './use-bench';

export interface ToolbarProps {
  lenses: Lenses;
  onLenses: (lenses: Lenses) => void;
  onKit: () => void;
  onLink: () => void;
  onSite: () => void;
  onAbout: () => void;
  aboutShown: boolean;
  menu: readonly { text: string; run: () => void }[];
}

export function Toolbar({ lenses, onLenses, onKit, onLink, onSite, onAbout, aboutShown, menu }: ToolbarProps) {
  const { past, future, undo, redo, save } = useBench((state) => state);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <Stack direction="row" spacing={0.75} role="toolbar" aria-label="Bench" sx={{ alignItems: 'center' }}>
      <ToolButton text="Device" keyName="A" icon={<IconPlus size={16} />} onClick={onKit} contained />
      <ToolButton text="Link" keyName="L" icon={<IconLink size={16} />} onClick={onLink} />
      <ToolButton text="Site" keyName="S" icon={<IconFrame size={16} />} onClick={onSite} />
      <Divider orientation="vertical" flexItem sx={{ mx: 0.5 }} />
      {(['ends', 'subnets', 'cables'] as const).map((lens) => (
        <Button
          key={lens}
          size="small"
          aria-pressed={lenses[lens]}
          onClick={() => onLenses({ ...lenses, [lens]: !lenses[lens] })}
          sx={{
            px: 1,
            minWidth: 0,
            color: lenses[lens] ? 'var(--spruce)' : 'var(--ink2)',
            background: lenses[lens] ? 'var(--spruce-tint)' : undefined,
            borderBottom: lenses[lens] ? '2px solid var(--spruce)' : '2px solid transparent',
          }}
        >
          {lens === 'ends' ? 'Ends' : lens === 'subnets' ? 'Subnets' : 'Cable'}
        </Button>
      ))}
      <Divider orientation="vertical" flexItem sx={{ mx: 0.5 }} />
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
      <IconTool title="About this drawing" name="About this drawing" pressed={aboutShown} onClick={onAbout}>
        <IconInfoCircle size={18} />
      </IconTool>
      <IconTool title="More" name="More" onClick={(event) => setAnchor(event.currentTarget)}>
        <IconDots size={18} />
      </IconTool>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {menu.map((one) => (
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
      <SaveSign save={save} />
    </Stack>
  );
}

function ToolButton({
  text,
  keyName,
  icon,
  onClick,
  contained = false,
}: {
  text: string;
  keyName: string;
  icon: ReactNode;
  onClick: () => void;
  contained?: boolean;
}) {
  return (
    <Button
      size="small"
      variant={contained ? 'contained' : 'outlined'}
      startIcon={icon}
      onClick={onClick}
      title={`${text} (${keyName})`}
      sx={{ px: 1.25 }}
    >
      {text}
    </Button>
  );
}

/** Whether everything is safe, as a shape and a word. */
function SaveSign({ save }: { save: SaveState }) {
  const words = {
    saved: 'Saved',
    saving: 'Saving',
    offline: 'Not sent',
    conflict: 'Two versions',
    refused: 'Not saved',
  } as const;
  const icon =
    save.kind === 'saved' ? (
      <IconCheck size={15} />
    ) : save.kind === 'saving' ? (
      <IconRefresh size={15} />
    ) : (
      <IconCloudOff size={15} />
    );
  const bad = save.kind !== 'saved' && save.kind !== 'saving';
  return (
    <Box
      role="status"
      aria-live="polite"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: '4px',
        width: 96,
        justifyContent: 'end',
        fontSize: 12,
        color: bad ? 'var(--brick)' : 'var(--ink2)',
        fontWeight: bad ? 700 : 400,
      }}
    >
      {icon}
      {words[save.kind]}
    </Box>
  );
}
