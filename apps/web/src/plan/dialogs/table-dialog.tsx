import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Stack,
  Typography,
} from '@mui/material';
import { IconFileText, IconPrinter } from '@tabler/icons-react';
import { colour } from '@sobrin/core/drawing';
import { addressTable, legendText, withLegend } from '@sobrin/core/plan';
import { useState } from 'react';
import { fileName } from '../../api/files';
import { useOpenBench } from '../../bench/use-bench';
import { BLANKABLE, type Blankable, addressPaper } from '../../print/papers';
import { printPaper } from '../../print/pdf';
import { Empty } from '../../ui/states';
import { usePlanFacts, usePlanSetting } from '../use-plan';
import { VlanBadge } from '../../ui/vlan-badge';

const toneOf = (tone: number): { fill: string; colour: string } => ({
  fill: colour('light', `vlan-${tone}`),
  colour: colour('light', `on-vlan-${tone}`),
});

/** The address table, to be printed, put on the drawing, or handed out with blanks. */
function TableForm({ onLegend, onClose }: { onLegend: (() => void) | null; onClose: () => void }) {
  const tree = usePlanFacts((facts) => facts.tree);
  const { brief, title } = usePlanSetting();
  const [blanks, setBlanks] = useState<ReadonlySet<Blankable>>(new Set());
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const lines = addressTable(tree, brief);
  const print = async (): Promise<void> => {
    setBusy(true);
    const unwritten = await printPaper(
      addressPaper(title, lines, blanks, toneOf),
      fileName(`${title} ${blanks.size ? 'worksheet' : 'addresses'}`, 'pdf'),
    );
    setTrouble(unwritten);
    setBusy(false);
  };
  const blank = (column: Blankable, text: string) =>
    blanks.has(column) ? <span style={{ color: 'var(--ink3)' }}>______</span> : text;
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle sx={{ pb: 1 }}>Address table</DialogTitle>
      <DialogContent>
        <Stack direction="row" spacing={1} sx={{ alignItems: 'center', mb: 1 }}>
          <Typography>Leave blank, for a worksheet:</Typography>
          {BLANKABLE.map((column) => (
            <FormControlLabel
              key={column}
              control={
                <Checkbox
                  size="small"
                  checked={blanks.has(column)}
                  onChange={(_event, on) =>
                    setBlanks(new Set(on ? [...blanks, column] : [...blanks].filter((blank) => blank !== column)))
                  }
                />
              }
              label={column}
            />
          ))}
        </Stack>
        {lines.length === 0 ? (
          <Empty title="The plan has no subnets yet" />
        ) : (
          <Box
            component="table"
            aria-label="Address table"
            sx={{
              width: '100%',
              borderCollapse: 'collapse',
              '& th, & td': {
                textAlign: 'left',
                verticalAlign: 'top',
                py: '5px',
                pr: 2,
                borderBottom: '1px solid var(--line)',
              },
              '& th': { fontSize: 12, color: 'var(--ink2)' },
            }}
          >
            <thead>
              <tr>
                {['Group', 'Site', 'VLAN', 'Subnet', 'Gateway', 'Pool'].map((title) => (
                  <th key={title}>{title}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <tr key={line.id}>
                  <td>{line.name}</td>
                  <td>{line.site}</td>
                  <td>
                    {blanks.has('VLAN')
                      ? blank('VLAN', '')
                      : line.vlan !== null && <VlanBadge vlan={line.vlan} tone={line.tone} />}
                  </td>
                  <td className="mono">{blank('Subnet', [line.subnet, line.subnet6].filter(Boolean).join('  '))}</td>
                  <td className="mono">{blank('Gateway', [line.gateway, line.gateway6].filter(Boolean).join('  '))}</td>
                  <td className="mono">{blank('Pool', line.pool)}</td>
                </tr>
              ))}
            </tbody>
          </Box>
        )}
        {trouble && (
          <Alert severity="warning" sx={{ mt: 1 }}>
            {trouble}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        {onLegend && (
          <Button variant="outlined" startIcon={<IconFileText size={15} />} disabled={!lines.length} onClick={onLegend}>
            Put it into the drawing’s legend
          </Button>
        )}
        <Button
          variant="contained"
          startIcon={<IconPrinter size={15} />}
          disabled={busy || !lines.length}
          onClick={() => void print()}
        >
          {blanks.size ? 'Print the worksheet as PDF' : 'Print as PDF'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** The address table with a way onto the drawing: as a part of its legend, replaced when it is put there again. */
function TableWithDrawing({
  drawingId,
  onClose,
  onTold,
}: {
  drawingId: string;
  onClose: () => void;
  onTold: (text: string) => void;
}) {
  const drawing = useOpenBench(drawingId);
  const tree = usePlanFacts((facts) => facts.tree);
  const { brief } = usePlanSetting();
  const bench = drawing.data?.store;
  const put = (): void => {
    if (!bench) return;
    const { document, do: draw, flush } = bench.getState();
    draw('put the address table into the legend', {
      kind: 'setDocument',
      set: { legend: withLegend(document.legend, legendText(tree, brief)) || null },
    });
    void flush();
    onTold('The address table stands in the legend of the drawing now.');
    onClose();
  };
  return <TableForm onLegend={bench ? put : null} onClose={onClose} />;
}

/** The address table and the worksheet of the plan, for paper and for the drawing where there is one. */
export default function TableDialog({
  drawingId,
  onClose,
  onTold,
}: {
  drawingId: string | null;
  onClose: () => void;
  onTold: (text: string) => void;
}) {
  return drawingId === null ? (
    <TableForm onLegend={null} onClose={onClose} />
  ) : (
    <TableWithDrawing drawingId={drawingId} onClose={onClose} onTold={onTold} />
  );
}
