import { Box, Button, Chip, InputBase } from '@mui/material';
import { IconChevronDown, IconChevronUp, IconFilter } from '@tabler/icons-react';
import { type SheetId, SHEETS } from '@sobrin/core/bench';
import { type KeyboardEvent, type PointerEvent, useDeferredValue, useMemo, useState } from 'react';
import { type Facts } from '../../workers/facts';
import { lazyPart } from '../../ui/lazy-part';
import { type Found } from '../files/drawing-files';
import { useBench } from '../use-bench';

const OpenSheet = lazyPart(() => import('./open-sheet'));

/** A sheet that is open, with only what belongs to some devices; null for all of it. */
export interface Listed {
  sheet: SheetId;
  devices: readonly string[] | null;
}
const HEIGHTS = { least: 96, start: 200, most: 560, step: 24 };

/** The tables under the drawing: the same document as rows; what is chosen is one with the drawing. */
export function SheetStrip({
  facts,
  showsEngine,
  listed,
  onListed,
  onReveal,
  onTell,
  onTable,
}: {
  facts: Facts;
  showsEngine: boolean;
  listed: Listed | null;
  onListed: (listed: Listed | null) => void;
  onReveal: (ids: string[]) => void;
  onTell: (text: string) => void;
  onTable: (found: Found) => void;
}) {
  const topology = useBench((state) => state.document);
  const [height, setHeight] = useState(HEIGHTS.start);
  const [filter, setFilter] = useState('');
  const open = listed?.sheet ?? null;
  const setOpen = (sheet: SheetId | null): void => onListed(sheet && { sheet, devices: null });
  // Counted a moment later: no change of a large drawing waits for it.
  const counted = useDeferredValue(topology);
  const counts = useMemo(() => SHEETS.map((sheet) => sheet.count?.(counted) ?? sheet.rows(counted).length), [counted]);
  const set = (next: number): void => setHeight(Math.max(HEIGHTS.least, Math.min(HEIGHTS.most, next)));
  const drag = (event: PointerEvent<HTMLElement>): void => {
    const [from, before] = [event.clientY, height];
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    element.onpointermove = (move) => set(before + from - move.clientY);
    element.onpointerup = () => (element.onpointermove = null);
  };
  const onGripKey = (event: KeyboardEvent): void => {
    const by = event.key === 'ArrowUp' ? HEIGHTS.step : event.key === 'ArrowDown' ? -HEIGHTS.step : 0;
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    set(height + by);
  };
  return (
    <Box
      component="section"
      aria-label="Sheet strip"
      sx={{ flex: 'none', borderTop: '1px solid var(--line2)', background: 'var(--ground)' }}
    >
      {open && (
        <div
          className="strip-grip"
          role="separator"
          tabIndex={0}
          aria-orientation="horizontal"
          aria-label="Height of the sheet strip"
          aria-valuenow={height}
          aria-valuemin={HEIGHTS.least}
          aria-valuemax={HEIGHTS.most}
          onPointerDown={drag}
          onKeyDown={onGripKey}
        />
      )}
      <Box
        data-tools
        sx={{
          minHeight: 32,
          display: 'flex',
          alignItems: 'stretch',
          px: 1,
          overflowX: 'auto',
          overflowY: 'hidden',
          '& > *': { flexShrink: 0 },
        }}
      >
        {SHEETS.map((sheet, at) => (
          <Button
            key={sheet.id}
            size="small"
            aria-expanded={open === sheet.id}
            onClick={() => setOpen(open === sheet.id ? null : sheet.id)}
            sx={{
              color: 'var(--ink)',
              fontWeight: open === sheet.id ? 700 : 500,
              borderRadius: 0,
              borderBottom: open === sheet.id ? '3px solid var(--spruce)' : '3px solid transparent',
              minHeight: 0,
            }}
          >
            {sheet.title}&nbsp;
            <span className="mono" style={{ color: 'var(--ink3)' }}>
              {counts[at]}
            </span>
          </Button>
        ))}
        <Box sx={{ flex: 1 }} />
        {open && listed?.devices && (
          <Chip
            size="small"
            label={`of ${listed.devices.map((id) => topology.devices[id]?.name ?? '').join(', ')}`}
            onDelete={() => setOpen(open)}
            sx={{ alignSelf: 'center', mr: 1 }}
          />
        )}
        {open && (
          <InputBase
            value={filter}
            placeholder="Filter"
            onChange={(event) => setFilter(event.target.value)}
            startAdornment={<IconFilter size={14} style={{ marginRight: 6 }} aria-hidden />}
            inputProps={{ 'aria-label': 'Filter the sheet', maxLength: 100 }}
            sx={{ width: 150, fontSize: 12.5, alignSelf: 'center' }}
          />
        )}
        <Button
          size="small"
          onClick={() => setOpen(open ? null : 'devices')}
          endIcon={open ? <IconChevronDown size={16} /> : <IconChevronUp size={16} />}
          sx={{ color: 'var(--ink2)', minHeight: 0 }}
        >
          {open ? 'Close the strip' : 'Open the strip'}
        </Button>
      </Box>
      {open && (
        <Box sx={{ height, borderTop: '1px solid var(--line)' }}>
          <OpenSheet
            key={open}
            sheet={SHEETS.find((sheet) => sheet.id === open)!}
            only={listed?.devices ?? null}
            filter={filter}
            facts={showsEngine ? facts : null}
            onReveal={onReveal}
            onTell={onTell}
            onTable={onTable}
          />
        </Box>
      )}
    </Box>
  );
}
