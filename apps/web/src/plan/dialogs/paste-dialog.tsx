import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  Stack,
  Typography,
} from '@mui/material';
import { IconFileUpload } from '@tabler/icons-react';
import {
  type PlanColumn,
  type TableLineOutcome,
  type TableRequest,
  PLAN_COLUMNS,
  readTable,
  recogniseColumns,
} from '@sobrin/core/formats';
import { type RangeUse, RANGE_USES } from '@sobrin/core/plan';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type DragEvent, useMemo, useRef, useState } from 'react';
import { pick } from '../../api/files';
import { Choice } from '../../ui/fields';
import { bytes } from '../../ui/words';
import { RANGE_WORDS } from '../plan-tree-table';
import { usePlan, usePlanFacts } from '../use-plan';
import { useTableReading } from './use-table-reading';

const MAX_BYTES = 10_000_000;
const COLUMN_WORDS: Record<PlanColumn, string> = {
  entry: 'address, range or block',
  entry6: 'IPv6 prefix',
  name: 'name',
  dns: 'DNS name',
  role: 'role',
  note: 'note',
  kind: 'kind',
  site: 'site',
  vlan: 'VLAN',
  purpose: 'purpose',
  group: 'group',
  standing: 'standing',
  use: 'use',
  gateway: 'gateway',
  gateway6: 'IPv6 gateway',
};
const OUTCOMES = ['added', 'changed', 'same', 'refused'] as const;

/** Pasted text, or a dropped CSV, TSV or XLSX file: what would be added, changed or refused, line by line, before it is taken. */
export default function PasteDialog({ onClose }: { onClose: () => void }) {
  const plan = usePlanFacts((facts) => facts.tree.plan);
  const run = usePlan((state) => state.do);
  const [rows, setRows] = useState<string[][] | null>(null);
  const [columns, setColumns] = useState<readonly (PlanColumn | null)[]>([]);
  const [heading, setHeading] = useState(false);
  const [rangesAre, setRangesAre] = useState<'addresses' | RangeUse>('addresses');
  const [trouble, setTrouble] = useState<string | null>(null);
  const [show, setShow] = useState<TableLineOutcome['outcome'] | 'all'>('all');
  // The plan as it was when the table came: taking the lines must not start reading them anew.
  const [before] = useState(plan);
  const request = useMemo(
    (): TableRequest | null => (rows ? { rows, columns, heading, rangesAre } : null),
    [rows, columns, heading, rangesAre],
  );
  const { reading, progress } = useTableReading(before, request);
  const take = (table: string[][]): void => {
    const found = recogniseColumns(table);
    setRows(table);
    setColumns(found.columns);
    setHeading(found.heading);
    setTrouble(table.length ? null : 'There is nothing in it.');
  };
  const read = async (file: File | null | undefined): Promise<void> => {
    if (!file) return;
    if (file.size > MAX_BYTES) return setTrouble(`${file.name} has ${bytes(file.size)}: at most 10 MB are taken.`);
    try {
      take(await rowsOf(file));
    } catch {
      setTrouble(`${file.name} cannot be read as a table. Save it as CSV and try again.`);
    }
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    void read(event.dataTransfer.files[0]);
  };
  const commit = (): void => {
    if (reading && run(`take ${reading.counts.added + reading.counts.changed} lines`, ...reading.commands)) onClose();
  };
  const good = reading ? reading.counts.added + reading.counts.changed : 0;
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle sx={{ pb: 1 }}>Paste a table</DialogTitle>
      <DialogContent
        sx={{ height: 560, display: 'flex', flexDirection: 'column' }}
        onDragOver={(event) => event.preventDefault()}
        onDrop={drop}
      >
        {trouble !== null && (
          <Alert severity="warning" variant="outlined" sx={{ mb: 1 }} onClose={() => setTrouble(null)}>
            {trouble}
          </Alert>
        )}
        {!rows || !rows.length ? (
          <>
            <Typography sx={{ mb: 1 }}>
              Paste addresses, ranges or blocks with names and whatever else you have, in any order of columns, or drop
              a CSV, TSV or XLSX file here. Nothing is taken before you have seen what it would do.
            </Typography>
            <Box
              component="textarea"
              autoFocus
              aria-label="Table as text"
              placeholder={'10.84.1.11\tDESK-1\n10.84.1.12\tDESK-2\n10.84.16.21-40\ttill'}
              onChange={(event: { target: { value: string } }) =>
                event.target.value.trim() && take(readTable(event.target.value))
              }
              className="mono"
              sx={{
                flex: 1,
                width: '100%',
                resize: 'none',
                fontSize: 12.5,
                color: 'var(--ink)',
                background: 'var(--surface)',
                border: '1px dashed var(--line2)',
                borderRadius: '8px',
                p: 1.5,
              }}
            />
            <Button
              sx={{ alignSelf: 'start', mt: 1 }}
              variant="outlined"
              startIcon={<IconFileUpload size={16} />}
              onClick={() => void pick('.csv,.tsv,.txt,.xlsx').then(read)}
            >
              Choose a file
            </Button>
          </>
        ) : (
          <>
            <Columns rows={rows} columns={columns} heading={heading} onColumns={setColumns} onHeading={setHeading} />
            <Stack direction="row" spacing={1} sx={{ alignItems: 'center', my: 1 }}>
              {(['all', ...OUTCOMES] as const).map((outcome) => (
                <Button
                  key={outcome}
                  size="small"
                  aria-pressed={show === outcome}
                  onClick={() => setShow(outcome)}
                  sx={{ minHeight: 26, py: 0, background: show === outcome ? 'var(--spruce-tint)' : undefined }}
                >
                  {outcome === 'all' ? 'all lines' : `${reading?.counts[outcome] ?? '…'} ${outcome}`}
                </Button>
              ))}
              <Box sx={{ flex: 1 }} />
              <Typography>Ranges are</Typography>
              <Box sx={{ width: 170 }}>
                <Choice
                  label="Ranges are"
                  value={rangesAre}
                  options={[
                    { value: 'addresses', text: 'addresses, one by one' },
                    ...RANGE_USES.map((value) => ({ value, text: `set aside: ${RANGE_WORDS[value]}` })),
                  ]}
                  onChange={setRangesAre}
                />
              </Box>
            </Stack>
            {reading ? (
              <Lines lines={show === 'all' ? reading.lines : reading.lines.filter((line) => line.outcome === show)} />
            ) : (
              <Box sx={{ flex: 1 }}>
                <LinearProgress variant="determinate" value={progress * 100} aria-label="Reading the table" />
                <Typography sx={{ mt: 1 }}>
                  {Math.round(progress * rows.length)} of {rows.length} lines read
                </Typography>
              </Box>
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        {rows && (
          <Button onClick={() => setRows(null)} sx={{ mr: 'auto' }}>
            Another table
          </Button>
        )}
        <Button onClick={onClose}>Cancel</Button>
        {reading && reading.counts.refused > 0 && (
          <Button variant="outlined" disabled={!good} onClick={commit}>
            Take the {good} good {good === 1 ? 'line' : 'lines'} only
          </Button>
        )}
        <Button variant="contained" disabled={!reading || !good || reading.counts.refused > 0} onClick={commit}>
          {reading && reading.counts.refused > 0
            ? `All or nothing: ${reading.counts.refused} refused`
            : `Take all ${good || ''} lines`}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** The rows of a file: XLSX by its first sheet, everything else as text. */
async function rowsOf(file: File): Promise<string[][]> {
  if (!/\.xlsx$/i.test(file.name)) return readTable(await file.text());
  const { readSheet } = await import('read-excel-file/browser');
  const sheet = await readSheet(file);
  return sheet.map((row) =>
    row.map((cell) =>
      cell === null ? '' : cell instanceof Date ? cell.toISOString().slice(0, 10) : String(cell).trim(),
    ),
  );
}

/** The first rows with what each column holds, which can be corrected. */
function Columns({
  rows,
  columns,
  heading,
  onColumns,
  onHeading,
}: {
  rows: readonly (readonly string[])[];
  columns: readonly (PlanColumn | null)[];
  heading: boolean;
  onColumns: (columns: readonly (PlanColumn | null)[]) => void;
  onHeading: (heading: boolean) => void;
}) {
  return (
    <Box sx={{ overflow: 'auto', flex: 'none', maxHeight: 168 }}>
      <Box
        component="table"
        sx={{
          borderCollapse: 'collapse',
          '& td, & th': {
            px: 1,
            py: '2px',
            border: '1px solid var(--line)',
            textAlign: 'left',
            maxWidth: 220,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
            fontSize: 12,
          },
        }}
      >
        <thead>
          <tr>
            {columns.map((column, at) => (
              <Box component="th" key={at} sx={{ minWidth: 150 }}>
                <Choice
                  label={`Column ${at + 1} is`}
                  value={column ?? ''}
                  options={[
                    { value: '', text: 'left out' },
                    ...PLAN_COLUMNS.map((value) => ({ value, text: COLUMN_WORDS[value] })),
                  ]}
                  onChange={(value) =>
                    onColumns(
                      columns.map((column, index) => (index === at ? value || null : column === value ? null : column)),
                    )
                  }
                />
              </Box>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 4).map((row, index) => (
            <tr key={index} style={{ color: heading && index === 0 ? 'var(--ink3)' : undefined }}>
              {columns.map((_column, at) => (
                <td key={at} className="mono">
                  {row[at]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
      <Button
        size="small"
        aria-pressed={heading}
        onClick={() => onHeading(!heading)}
        sx={{ mt: 0.5, minHeight: 24, py: 0 }}
      >
        {heading ? 'The first line is a heading' : 'The first line is no heading'}
      </Button>
    </Box>
  );
}

const SIGNS: Record<TableLineOutcome['outcome'], { sign: string; colour: string }> = {
  added: { sign: '+', colour: 'var(--spruce)' },
  changed: { sign: '~', colour: 'var(--ochre-text)' },
  same: { sign: '=', colour: 'var(--ink3)' },
  refused: { sign: '×', colour: 'var(--brick)' },
};

function Lines({ lines }: { lines: readonly TableLineOutcome[] }) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 24,
    overscan: 10,
    initialRect: { width: 800, height: 300 },
  });
  return (
    <Box
      ref={scroller}
      role="table"
      aria-label="Lines"
      tabIndex={0}
      sx={{ flex: 1, minHeight: 0, overflow: 'auto', border: '1px solid var(--line)', borderRadius: '8px' }}
    >
      <Box sx={{ position: 'relative', height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index]!;
          const { sign, colour } = SIGNS[line.outcome];
          return (
            <Box
              key={item.key}
              role="row"
              sx={{
                position: 'absolute',
                inset: '0 0 auto',
                transform: `translateY(${item.start}px)`,
                height: 24,
                display: 'grid',
                gridTemplateColumns: '52px 88px minmax(0, 1fr) minmax(0, 1.4fr)',
                gap: 1,
                px: 1,
                alignItems: 'center',
                borderBottom: '1px solid var(--line)',
              }}
            >
              <span role="cell" className="mono" style={{ color: 'var(--ink3)', textAlign: 'right' }}>
                {line.line}
              </span>
              <span role="cell" style={{ color: colour, fontWeight: 650 }}>
                <span className="mono">{sign}</span> {line.outcome}
              </span>
              <span
                role="cell"
                className="mono"
                style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', fontSize: 12 }}
              >
                {line.what}
              </span>
              <span
                role="cell"
                style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
                title={line.words}
              >
                {line.words}
              </span>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
