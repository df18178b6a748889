import { Button, Divider, Stack } from '@mui/material';
import { IconInfoCircle, IconLayoutAlignLeft, IconPlus } from '@tabler/icons-react';
import { HistoryTools, SaveSign } from '../documents/tools';
import { type Lenses } from '../drawing/link-layer';
import { IconTool } from '../ui/icon-tool';
import { MenuTool } from '../ui/menu-tool';
import { useBench } from './use-bench';
import { type MenuEntry } from './use-bench-actions';

const LENS_NAMES = { ends: 'Ends', subnets: 'Subnets', cables: 'Cable' } as const;

export function Toolbar({
  lenses,
  onLenses,
  menu,
  aboutShown,
  onAbout,
}: {
  lenses: Lenses;
  onLenses: (lenses: Lenses) => void;
  menu: readonly MenuEntry[];
  aboutShown: boolean;
  onAbout: () => void;
}) {
  const state = useBench((now) => now);
  const of = (...groups: MenuEntry['group'][]) => menu.filter((one) => groups.includes(one.group));
  return (
    <Stack direction="row" spacing={0.5} role="toolbar" aria-label="Bench" sx={{ alignItems: 'center' }}>
      <MenuTool name="Add" icon={<IconPlus size={18} />} entries={of('add')} />
      <MenuTool name="Line up" icon={<IconLayoutAlignLeft size={18} />} entries={of('arrange')} />
      <Divider orientation="vertical" flexItem sx={{ mx: 0.5 }} />
      {(Object.keys(LENS_NAMES) as (keyof Lenses)[]).map((lens) => (
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
          {LENS_NAMES[lens]}
        </Button>
      ))}
      <Divider orientation="vertical" flexItem sx={{ mx: 0.5 }} />
      <HistoryTools state={state} />
      <IconTool title="About this drawing" name="About this drawing" pressed={aboutShown} onClick={onAbout}>
        <IconInfoCircle size={18} />
      </IconTool>
      <MenuTool entries={of('change', 'file').filter((one) => !['undo', 'redo', 'about'].includes(one.id))} />
      <SaveSign save={state.save.kind} />
    </Stack>
  );
}
