import { Button, Divider, Stack } from '@mui/material';
import { IconFrame, IconInfoCircle, IconLink, IconPlus } from '@tabler/icons-react';
import { type ReactNode } from 'react';
import { type Lenses } from '../drawing/link-layer';
import { HistoryTools, SaveSign } from '../documents/tools';
import { IconTool } from '../ui/icon-tool';
import { MenuTool } from '../ui/menu-tool';
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
  const state = useBench((now) => now);
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
      <HistoryTools state={state} />
      <IconTool title="About this drawing" name="About this drawing" pressed={aboutShown} onClick={onAbout}>
        <IconInfoCircle size={18} />
      </IconTool>
      <MenuTool entries={menu} />
      <SaveSign save={state.save.kind} />
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
