import { Button, Divider, Stack } from '@mui/material';
import { IconChevronDown, IconInfoCircle, IconLayoutAlignLeft, IconPlus } from '@tabler/icons-react';
import { HistoryTools, SaveSign } from '../documents/tools';
import { type Lenses } from '../drawing/link-layer';
import { IconTool } from '../ui/icon-tool';
import { MenuTool } from '../ui/menu-tool';
import { useBench } from './use-bench';
import { type MenuEntry } from './use-bench-actions';

/** Lenses that are chosen often stand in the bar, the others behind its arrow. */
const IN_BAR = { ends: 'Ends', subnets: 'Subnets', vlans: 'VLANs' } as const;
const BEHIND = { cables: 'Cable', ids: 'Identifiers', speeds: 'Speeds' } as const;

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
      {(Object.keys(IN_BAR) as (keyof typeof IN_BAR)[]).map((lens) => (
        <Button
          key={lens}
          size="small"
          aria-pressed={lenses[lens] ?? false}
          onClick={() => onLenses({ ...lenses, [lens]: !lenses[lens] })}
          sx={{
            px: 1,
            minWidth: 0,
            color: lenses[lens] ? 'var(--spruce)' : 'var(--ink2)',
            background: lenses[lens] ? 'var(--spruce-tint)' : undefined,
            borderBottom: lenses[lens] ? '2px solid var(--spruce)' : '2px solid transparent',
          }}
        >
          {IN_BAR[lens]}
        </Button>
      ))}
      <MenuTool
        name="Lenses"
        icon={<IconChevronDown size={16} />}
        entries={(Object.keys(BEHIND) as (keyof typeof BEHIND)[]).map((lens) => ({
          text: BEHIND[lens],
          checked: lenses[lens] ?? false,
          run: () => onLenses({ ...lenses, [lens]: !lenses[lens] }),
        }))}
      />
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
