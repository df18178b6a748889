import { Divider, Stack, useMediaQuery } from '@mui/material';
import { IconChevronDown, IconInfoCircle, IconLayoutAlignLeft, IconPlus, IconRoute } from '@tabler/icons-react';
import { Others, lineOfDocument } from '../documents/others';
import { NARROW } from '../ui/frame';
import { HistoryTools, SaveSign } from '../documents/tools';
import { useMemo } from 'react';
import { LensButton } from '../drawing/lens-button';
import { type Lenses, fieldKeys } from '../drawing/lenses';
import { IconTool } from '../ui/icon-tool';
import { MenuTool } from '../ui/menu-tool';
import { useBench, useBenchId } from './use-bench';
import { type MenuEntry } from './bench-menu';

/** Lenses that are chosen often stand in the bar, the others behind its arrow. */
const IN_BAR = { ends: 'Ends', subnets: 'Subnets', vlans: 'VLANs' } as const;
const BEHIND = {
  names: 'Names',
  cables: 'Cable',
  ids: 'Identifiers',
  speeds: 'Speeds',
  domains: 'Domains',
  reach: 'Reach',
  page: 'Page and title block',
} as const;
/** Lenses that are on unless they are switched off. */
const ON: Partial<Lenses> = { names: true };

/** Lenses that tell what the engine found out. */
const TELLING: ReadonlySet<string> = new Set(['speeds', 'domains', 'reach']);

export function Toolbar({
  lenses,
  onLenses,
  showsEngine,
  menu,
  aboutShown,
  onAbout,
}: {
  lenses: Lenses;
  onLenses: (lenses: Lenses) => void;
  /** Whether the lab tells link states and who reaches whom. */
  showsEngine: boolean;
  menu: readonly MenuEntry[];
  aboutShown: boolean;
  onAbout: () => void;
}) {
  const state = useBench((now) => now);
  const id = useBenchId();
  // On a narrow page, as with a zoomed browser, what is in the bar goes into its menus.
  const narrow = useMediaQuery(NARROW);
  const fields = useMemo(() => fieldKeys(state.document), [state.document]);
  const barLenses = narrow ? [] : (Object.keys(IN_BAR) as (keyof typeof IN_BAR)[]);
  // Bands of two lenses would lie on each other.
  const toggle = (lens: keyof typeof IN_BAR): void =>
    onLenses({ ...lenses, [lens]: !lenses[lens], ...(lens === 'vlans' && !lenses.vlans && { domains: false }) });
  const of = (...groups: MenuEntry['group'][]) => menu.filter((entry) => groups.includes(entry.group));
  return (
    <Stack direction="row" spacing={0.5} role="toolbar" aria-label="Bench" sx={{ alignItems: 'center' }}>
      <MenuTool name="Add" icon={<IconPlus size={18} />} entries={of('add')} />
      <MenuTool name="Line up" icon={<IconLayoutAlignLeft size={18} />} entries={of('arrange')} />
      <MenuTool name="Ask the network" icon={<IconRoute size={18} />} entries={of('ask')} />
      <Divider orientation="vertical" flexItem sx={{ mx: 0.5 }} />
      {barLenses.map((lens) => (
        <LensButton key={lens} text={IN_BAR[lens]} isOn={lenses[lens] ?? false} onToggle={() => toggle(lens)} />
      ))}
      <MenuTool
        name="Lenses"
        icon={<IconChevronDown size={16} />}
        entries={[
          ...(narrow ? (Object.keys(IN_BAR) as (keyof typeof IN_BAR)[]) : []).map((lens) => ({
            text: IN_BAR[lens],
            checked: lenses[lens] ?? false,
            run: () => toggle(lens),
          })),
          ...(Object.keys(BEHIND) as (keyof typeof BEHIND)[])
            .filter((lens) => showsEngine || !TELLING.has(lens))
            .map((lens) => {
              const isOn = { ...ON, ...lenses }[lens] ?? false;
              return {
                text: BEHIND[lens],
                checked: isOn,
                run: () => onLenses({ ...lenses, [lens]: !isOn, ...(lens === 'domains' && !isOn && { vlans: false }) }),
              };
            }),
          ...fields.map((field) => ({
            text: `Field “${field}”`,
            checked: lenses.field === field,
            run: () => onLenses({ ...lenses, field: lenses.field === field ? null : field }),
          })),
        ]}
      />
      <Divider orientation="vertical" flexItem sx={{ mx: 0.5 }} />
      {!narrow && <HistoryTools state={state} />}
      <IconTool title="About this drawing" name="About this drawing" pressed={aboutShown} onClick={onAbout}>
        <IconInfoCircle size={18} />
      </IconTool>
      <MenuTool
        entries={of('change', 'file').filter(
          (entry) => entry.id !== 'about' && (narrow || !['undo', 'redo'].includes(entry.id)),
        )}
      />
      <Others line={lineOfDocument(id)} />
      <SaveSign save={state.save.kind} />
    </Stack>
  );
}
