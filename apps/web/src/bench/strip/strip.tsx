import { Box, Button, Checkbox, Chip, InputBase, Menu, MenuItem } from '@mui/material';
import { IconChevronDown, IconChevronUp, IconColumns3, IconFilter } from '@tabler/icons-react';
import { byName } from '@sobrin/core';
import {
  type CellText,
  type Sheet,
  type SheetColumn,
  type SheetId,
  type SheetRow,
  SHEETS,
  refusedWords,
  writeCells,
} from '@sobrin/core/bench';
import { type Topology } from '@sobrin/core/topology';
import { type KeyboardEvent, type PointerEvent, useDeferredValue, useMemo, useState } from 'react';
import { NOTHING } from '../../drawing/selection';
import { IconTool } from '../../ui/icon-tool';
import { speedWords } from '../../ui/speed-words';
import { type Facts } from '../../workers/facts';
import { lazyPart } from '../../ui/lazy-part';
import { useBench } from '../use-bench';

const SheetGrid = lazyPart(() => import('./sheet-grid'));

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
}: {
  facts: Facts;
  showsEngine: boolean;
  listed: Listed | null;
  onListed: (listed: Listed | null) => void;
  onReveal: (ids: string[]) => void;
  onTell: (text: string) => void;
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
        sx={{
          height: 32,
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
          />
        </Box>
      )}
    </Box>
  );
}

/** What the engine says of a link, where the lab tells it. */
const stateColumns = (facts: Facts): SheetColumn[] => [
  {
    key: 'speed',
    label: 'Speed',
    width: 80,
    mono: true,
    read: (_topology, row) => {
      const speed = facts.links[row.link!]?.speedMbps;
      return speed ? speedWords(speed) : '–';
    },
  },
  {
    key: 'state',
    label: 'State and why',
    width: 320,
    read: (_topology, row) => {
      const fact = facts.links[row.link!];
      return fact?.state === 'up' ? fact.text || 'Passes traffic' : (fact?.text ?? '');
    },
  },
];

function OpenSheet({
  sheet,
  only,
  filter,
  facts,
  onReveal,
  onTell,
}: {
  sheet: Sheet;
  only: readonly string[] | null;
  filter: string;
  facts: Facts | null;
  onReveal: (ids: string[]) => void;
  onTell: (text: string) => void;
}) {
  const { document: topology, selection, select, do: run } = useBench((state) => state);
  const [sort, setSort] = useState<{ key: string; down: boolean } | null>(null);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const all = useMemo(
    () => [...sheet.columns, ...(sheet.id === 'links' && facts ? stateColumns(facts) : [])],
    [sheet, facts],
  );
  const columns = useMemo(() => all.filter((column) => !hidden.has(column.key)), [all, hidden]);
  const rows = useMemo(
    () => rowsShown(topology, sheet, all, { only, filter, sort }),
    [topology, sheet, all, only, filter, sort],
  );
  const chosen = useMemo(() => {
    const [devices, links] = [new Set(selection.devices), new Set(selection.links)];
    return new Set(
      rows
        .filter((row) => (row.link === undefined ? devices.has(row.device!) : links.has(row.link)))
        .map((row) => row.key),
    );
  }, [rows, selection]);
  const pick = (picked: readonly SheetRow[]): void => {
    const links = picked.flatMap((row) => row.link ?? []);
    const devices = [...new Set(picked.flatMap((row) => row.device ?? []))];
    select({ ...NOTHING, devices, links });
    if (picked.length > 1) return;
    onReveal([...devices, ...links.flatMap((id) => [topology.links[id]!.a.device, topology.links[id]!.b.device])]);
  };
  const write = (title: string, cells: readonly CellText[]): void => {
    const { commands, refused } = writeCells(topology, cells);
    if (commands.length) run(title, ...commands);
    if (refused.length) onTell(refusedWords(refused));
  };
  return (
    <Box sx={{ position: 'relative', height: '100%' }}>
      <SheetGrid
        title={sheet.title}
        topology={topology}
        rows={rows}
        columns={columns}
        chosen={chosen}
        sort={sort}
        onSort={(key) => setSort(sort?.key !== key ? { key, down: false } : sort.down ? null : { key, down: true })}
        onWrite={write}
        onPick={pick}
      />
      <Box sx={{ position: 'absolute', top: -1, right: 10, zIndex: 3, background: 'var(--ground)' }}>
        <IconTool title="Choose columns" onClick={(event) => setMenu(event.currentTarget)}>
          <IconColumns3 size={14} />
        </IconTool>
      </Box>
      <Menu open={menu !== null} anchorEl={menu} onClose={() => setMenu(null)}>
        {all.map((column) => (
          <MenuItem
            key={column.key}
            role="menuitemcheckbox"
            aria-checked={!hidden.has(column.key)}
            dense
            disabled={columns.length === 1 && !hidden.has(column.key)}
            onClick={() => {
              const next = new Set(hidden);
              if (!next.delete(column.key)) next.add(column.key);
              setHidden(next);
            }}
          >
            <Checkbox size="small" checked={!hidden.has(column.key)} tabIndex={-1} disableRipple sx={{ p: 0, mr: 1 }} />
            {column.label}
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}

/** Rows of the devices that are asked for, with the filter's words in any cell, in the order that was chosen. */
function rowsShown(
  topology: Topology,
  sheet: Sheet,
  columns: readonly SheetColumn[],
  {
    only,
    filter,
    sort,
  }: { only: readonly string[] | null; filter: string; sort: { key: string; down: boolean } | null },
): SheetRow[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  const inside = only && new Set(only);
  const belongs = (row: SheetRow): boolean => {
    if (!inside) return true;
    if (row.device !== undefined) return inside.has(row.device);
    const { a, b } = topology.links[row.link!]!;
    return inside.has(a.device) || inside.has(b.device);
  };
  const rows = sheet
    .rows(topology)
    .filter(belongs)
    .filter((row) => {
      if (!words.length) return true;
      const text = columns
        .map((column) => column.read(topology, row))
        .join(' ')
        .toLowerCase();
      return words.every((word) => text.includes(word));
    });
  const column = columns.find((column) => column.key === sort?.key);
  if (!column || !sort) return rows;
  const sign = sort.down ? -1 : 1;
  return rows
    .map((row) => ({ row, text: column.read(topology, row) }))
    .sort((a, b) => sign * byName(a.text, b.text))
    .map((match) => match.row);
}
