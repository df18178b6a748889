import {
  Autocomplete,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  IconButton,
  Tab,
  Tabs,
  TextField,
  Typography,
} from '@mui/material';
import { IconMinus, IconPlus } from '@tabler/icons-react';
import { byName } from '@sobrin/core';
import {
  type CellReason,
  type Grid,
  type GridRequest,
  type Grouping,
  type Switchable,
  partName,
} from '@sobrin/core/engine';
import { cellWords, writeGrid } from '@sobrin/core/formats';
import { type Topology, entriesById } from '@sobrin/core/topology';
import { useEffect, useMemo, useState } from 'react';
import { fileName, give } from '../../api/files';
import { Choice } from '../../ui/fields';
import { Waiting } from '../../ui/states';
import { type Ask } from '../../workers/engine-requests';
import { type TraceRequest } from '../../workers/trace-answer';
import { CountsView } from './counts-view';
import { FailuresView } from './failures-view';
import { useNamedGroups } from './named-groups';
import { type Cell, GridMatrix } from './grid-matrix';
import { type ProbeOptions, ProbeFields } from './probe-fields';

export type ReachView = 'grid' | 'failures' | 'counts';

const GROUPINGS: readonly { value: Grouping; text: string }[] = [
  { value: 'device', text: 'by device' },
  { value: 'subnet', text: 'by subnet' },
  { value: 'site', text: 'by site' },
  { value: 'kind', text: 'by kind' },
];
const [SMALLEST, LARGEST] = [3, 32];
const NOTHING_OFF: readonly Switchable[] = [];

/** Who reaches whom, as it is and with some things switched off for the moment; and what each single failure cuts off. */
export default function ReachDialog({
  view,
  topology,
  title,
  ask,
  onView,
  onTrace,
  onClose,
}: {
  view: ReachView;
  topology: Topology;
  title: string;
  ask: Ask;
  onView: (view: ReachView) => void;
  onTrace: (request: TraceRequest) => void;
  onClose: () => void;
}) {
  const [off, setOff] = useState(NOTHING_OFF);
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth={false}
      fullWidth
      slotProps={{ paper: { sx: { height: '92vh', maxWidth: 1240 } } }}
    >
      <DialogTitle sx={{ pb: 0 }}>
        Asked of the network
        <Tabs value={view} onChange={(_event, next: ReachView) => onView(next)} sx={{ minHeight: 40 }}>
          <Tab value="grid" label="Reach grid" />
          <Tab value="failures" label="What if one fails" />
          <Tab value="counts" label="Counts" />
        </Tabs>
      </DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', minHeight: 0, pt: '16px !important' }}>
        {view === 'grid' ? (
          <GridView topology={topology} title={title} ask={ask} off={off} onOff={setOff} onTrace={onTrace} />
        ) : view === 'counts' ? (
          <CountsView topology={topology} ask={ask} />
        ) : (
          <FailuresView
            topology={topology}
            ask={ask}
            onSee={(part) => {
              setOff([part]);
              onView('grid');
            }}
          />
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function GridView({
  topology,
  title,
  ask,
  off,
  onOff,
  onTrace,
}: {
  topology: Topology;
  title: string;
  ask: Ask;
  off: readonly Switchable[];
  onOff: (off: readonly Switchable[]) => void;
  onTrace: (request: TraceRequest) => void;
}) {
  const groups = useNamedGroups();
  const [by, setBy] = useState<Grouping>('device');
  const [probing, setProbing] = useState<ProbeOptions>({});
  const [grid, setGrid] = useState<Grid | null>(null);
  /** What the grid is compared with: the one that was kept, else the one with nothing off. */
  const [kept, setKept] = useState<Grid | null>(null);
  const [usual, setUsual] = useState<Grid | null>(null);
  const [at, setAt] = useState<Cell>({ row: 0, column: 1 });
  const [zoom, setZoom] = useState<number | null>(null);
  useEffect(() => {
    let isWanted = true;
    const asked = { by, groups, ...probing };
    void ask('grid', { ...asked, off }).then((answer) => isWanted && setGrid(answer));
    if (off.length) void ask('grid', asked).then((answer) => isWanted && setUsual(answer));
    return () => void (isWanted = false);
  }, [ask, by, groups, probing, off]);
  const base = kept ?? (off.length ? usual : null);
  const changed = useMemo(() => (grid && base ? changesIn(base, grid) : null), [base, grid]);
  const switchables = useMemo(() => everythingIn(topology), [topology]);
  if (!grid) return <Waiting what="Asking everybody for everybody" />;
  const size = zoom ?? Math.max(SMALLEST, Math.min(22, Math.floor(900 / Math.max(1, grid.rows.length))));
  const here = { row: Math.min(at.row, grid.rows.length - 1), column: Math.min(at.column, grid.rows.length - 1) };
  const [from, to] = [grid.rows[here.row], grid.rows[here.column]];
  return (
    <>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', mb: 1 }}>
        <Box sx={{ width: 110 }}>
          <Choice
            label="Grouped"
            value={by}
            options={groups ? [...GROUPINGS, { value: 'group', text: 'by group' }] : GROUPINGS}
            onChange={setBy}
          />
        </Box>
        <ProbeFields options={probing} asksSignIn onChange={setProbing} />
        <Box sx={{ flex: 1 }} />
        <IconButton
          size="small"
          aria-label="Smaller cells"
          disabled={size <= SMALLEST}
          onClick={() => setZoom(Math.max(SMALLEST, Math.round(size / 1.4)))}
        >
          <IconMinus size={16} />
        </IconButton>
        <IconButton
          size="small"
          aria-label="Larger cells"
          disabled={size >= LARGEST}
          onClick={() => setZoom(Math.min(LARGEST, Math.round(size * 1.4)))}
        >
          <IconPlus size={16} />
        </IconButton>
        <Button size="small" variant="outlined" onClick={() => setKept(kept ? null : grid)}>
          {kept ? 'Stop comparing' : 'Keep to compare'}
        </Button>
        <Button
          size="small"
          variant="outlined"
          onClick={() => give(fileName(`${title} reach`, 'csv'), 'text/csv', writeGrid(grid))}
        >
          Save as CSV
        </Button>
        <Button
          size="small"
          variant="outlined"
          onClick={() =>
            void ask('pairs', { by, groups, ...probing, off }).then((text) =>
              give(fileName(`${title} pairs`, 'csv'), 'text/csv', text),
            )
          }
        >
          Save with reasons
        </Button>
      </Box>
      <Autocomplete
        multiple
        size="small"
        options={switchables}
        value={[...off]}
        onChange={(_event, parts) => onOff(parts)}
        getOptionLabel={(part) => partName(topology, part)}
        groupBy={(part) => KIND_WORDS[part.kind]}
        getOptionKey={(part) => JSON.stringify(part)}
        isOptionEqualToValue={(first, second) => JSON.stringify(first) === JSON.stringify(second)}
        renderInput={(params) => (
          <TextField {...params} label="Switched off for the moment" placeholder="a device, link, port or filter" />
        )}
        sx={{ mb: 1 }}
      />
      {grid.rows.length === 0 ? (
        <Typography color="text.secondary">
          Nobody has an address yet. Give two devices addresses on the Bench, and this shows whether they reach each
          other.
        </Typography>
      ) : (
        <>
          <GridMatrix grid={grid} changed={changed?.is ?? null} size={size} at={here} onAt={setAt} />
          <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', pt: 1, minHeight: 36, flexWrap: 'wrap' }}>
            <Typography id="reach-cell" role="status" sx={{ flex: 1 }}>
              <b>{from!.name}</b> → <b>{to!.name}</b>: {cellWords(grid, here.row, here.column) || 'nothing is asked'}
              {changed?.is(here) && base ? `, was ${wordsBefore(base, grid, here) || 'nothing'}` : ''}
            </Typography>
            {changed && (
              <Typography sx={{ color: 'var(--plum)' }}>
                {changed.count === 0
                  ? 'Nothing is other than before.'
                  : `${changed.count} ${changed.count === 1 ? 'cell is' : 'cells are'} other than before.`}
              </Typography>
            )}
            {by === 'device' && off.length === 0 && from!.id !== to!.id && (
              <Button
                size="small"
                onClick={() => onTrace({ from: from!.id, to: to!.id, family: probing.family, probe: probing.probe })}
              >
                Follow this packet
              </Button>
            )}
          </Box>
          <CellReasons
            ask={ask}
            request={{ by, groups, ...probing, off, row: from!.id, column: to!.id }}
            isAsked={/no|of|uncertain/.test(cellWords(grid, here.row, here.column))}
          />
          <Typography variant="body2" color="text.secondary">
            Rows send, columns are asked. Filled: reached and answered. Crossed: not. Half: in part. Ring: uncertain.
            {changed && ' Folded corner: other than before.'}
          </Typography>
        </>
      )}
    </>
  );
}

/** Why the pairs of a cell are not reached: the sentence that keeps most of them apart first. */
function CellReasons({
  ask,
  request,
  isAsked,
}: {
  ask: Ask;
  request: GridRequest & { row: string; column: string };
  isAsked: boolean;
}) {
  const key = JSON.stringify(request);
  const [answer, setAnswer] = useState<{ key: string; reasons: readonly CellReason[] } | null>(null);
  useEffect(() => {
    if (!isAsked) return;
    let isWanted = true;
    // While somebody walks the grid by keys, only the cell where they stop is asked about.
    const timer = window.setTimeout(() => {
      const asked = JSON.parse(key) as typeof request;
      void ask('cell', asked).then((reasons) => isWanted && setAnswer({ key, reasons }));
    }, PAUSE_MS);
    return () => {
      isWanted = false;
      window.clearTimeout(timer);
    };
  }, [ask, key, isAsked]);
  const reasons = isAsked && answer?.key === key ? answer.reasons : [];
  return (
    <Box sx={{ minHeight: 44 }} aria-live="polite">
      {reasons.slice(0, MOST_REASONS).map(({ text, count }) => (
        <Typography key={text} variant="body2" noWrap title={text}>
          {count > 1 ? `${count} × ` : ''}
          {text}
        </Typography>
      ))}
      {reasons.length > MOST_REASONS && (
        <Typography variant="body2" color="text.secondary">
          and {reasons.length - MOST_REASONS} other reasons
        </Typography>
      )}
    </Box>
  );
}
const [PAUSE_MS, MOST_REASONS] = [120, 2];

const KIND_WORDS: Readonly<Record<Switchable['kind'], string>> = {
  device: 'Devices',
  link: 'Links',
  port: 'Ports',
  filter: 'Filters',
};

function everythingIn(topology: Topology): Switchable[] {
  const devices = entriesById(topology.devices);
  const all: Switchable[][] = [
    devices.map(([id]) => ({ kind: 'device', id })),
    entriesById(topology.links).map(([id]) => ({ kind: 'link', id })),
    entriesById(topology.links).flatMap(([, { a, b }]) =>
      [a, b].map(({ device, port }): Switchable => ({ kind: 'port', device, port })),
    ),
    devices.flatMap(([device, { settings }]) =>
      Object.keys(settings?.filters ?? {}).map((filter): Switchable => ({ kind: 'filter', device, filter })),
    ),
  ];
  return all.flatMap((parts) => parts.sort((a, b) => byName(partName(topology, a), partName(topology, b))));
}

/** Cells whose words are other than in another grid, found by the names of their rows and columns. */
function changesIn(before: Grid, now: Grid): { is: (cell: Cell) => boolean; count: number } {
  const changed = new Set<number>();
  for (const [row] of now.rows.entries())
    for (const [column] of now.rows.entries())
      if (wordsBefore(before, now, { row, column }) !== cellWords(now, row, column))
        changed.add(row * now.rows.length + column);
  return { is: ({ row, column }) => changed.has(row * now.rows.length + column), count: changed.size };
}

const places = new WeakMap<Grid, Map<string, number>>();
function wordsBefore(before: Grid, now: Grid, { row, column }: Cell): string {
  let place = places.get(before);
  if (!place) places.set(before, (place = new Map(before.rows.map((row, at) => [row.id, at]))));
  const [r, c] = [place.get(now.rows[row]!.id), place.get(now.rows[column]!.id)];
  return r === undefined || c === undefined ? '' : cellWords(before, r, c);
}
