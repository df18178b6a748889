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
  Radio,
  RadioGroup,
  Typography,
} from '@mui/material';
import { SHEETS } from '@sobrin/core/bench';
import { type Box as Area } from '@sobrin/core/drawing';
import { DRAWING_FORMATS, PAPER_SIZES, drawnWords, paperOf, writeHtml, writeSheet } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { type RefObject, useState } from 'react';
import { fileName, give } from '../../api/files';
import { type DrawingView } from '../../drawing/view';
import { printDocument } from '../../print/pdf';
import { pixelsOf, svgWithFonts, withFonts } from '../../print/picture';
import { Choice, Row } from '../../ui/fields';
import { type LinkFact } from '../../workers/facts';

const MORE = [
  { ending: '.pdf', name: 'Paper (PDF)', use: 'with title block, legend and tables; can be printed at once' },
  { ending: '.png', name: 'Picture (PNG)', use: 'in pixels, for slides and pages' },
  { ending: '.jpg', name: 'Picture (JPEG)', use: 'in pixels, for where no other is taken' },
  { ending: '.csv', name: 'One table (CSV)', use: 'for a spreadsheet' },
];
const ALL = [
  ...['.json', '.yaml'],
  ...['.pdf', '.svg', '.png', '.jpg', '.html'],
  ...['.csv', '.graphml', '.dot', '.rfc8345.json'],
].map((ending) => [...DRAWING_FORMATS, ...MORE].find((format) => format.ending === ending)!);
const PICTURES = ['.svg', '.png', '.jpg', '.html'];
type Part = 'all' | 'view';

const Setting = <T extends string>(props: {
  label: string;
  value: T;
  onChange: (value: T) => void;
  options: readonly { value: T; text: string }[];
}) => (
  <Row label={props.label}>
    <Choice {...props} />
  </Row>
);

/** Saving a drawing as a file of any format, or printing it. */
export default function SaveDialog({
  topology,
  shown,
  title,
  facts,
  lenses,
  view,
  onClose,
}: {
  topology: Topology;
  /** The same as it is looked at: pictures and paper show it. */
  shown: Topology;
  title: string;
  /** How links are, where that is told. */
  facts: Readonly<Record<string, LinkFact>> | null;
  lenses: { ends: boolean; subnets: boolean };
  view: RefObject<DrawingView | null>;
  onClose: () => void;
}) {
  const [ending, setEnding] = useState('.json');
  const [part, setPart] = useState<Part>('all');
  const [scheme, setScheme] = useState<'light' | 'dark'>('light');
  const [ground, setGround] = useState<'painted' | 'clear'>('painted');
  const [scale, setScale] = useState<'1' | '2' | '4'>('2');
  const [size, setSize] = useState<(typeof PAPER_SIZES)[number]>('A4');
  const [schedules, setSchedules] = useState(true);
  const [table, setTable] = useState<string>(SHEETS[0]!.id);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const isPicture = PICTURES.includes(ending);
  const name = topology.title ?? title;

  const look = () => {
    const states = facts && Object.fromEntries(Object.entries(facts).map(([id, { state }]) => [id, state]));
    const area: Area | undefined = part === 'view' ? view.current?.seen() : undefined;
    return { area, ...lenses, ...(states && { states }) };
  };
  /** Saves it; what could not be written comes back as a sentence. */
  const save = async (toPrinter = false): Promise<string | null> => {
    const format = DRAWING_FORMATS.find((format) => format.ending === ending);
    const file = fileName(name, ending.slice(1));
    const picture = { ...look(), scheme, transparent: ground === 'clear' };
    if (ending === '.pdf') {
      const date = new Date().toISOString().slice(0, 10);
      return printDocument(
        paperOf(topology, { ...look(), seen: shown, size, schedules, date }),
        toPrinter ? 'printer' : { file },
      );
    } else if (ending === '.svg') give(file, 'image/svg+xml', await svgWithFonts(shown, picture));
    else if (ending === '.png' || ending === '.jpg') {
      const type = ending === '.png' ? 'image/png' : 'image/jpeg';
      give(file, type, await pixelsOf(shown, { ...picture, type, scale: Number(scale) }));
    } else if (ending === '.csv') {
      const sheet = SHEETS.find((sheet) => sheet.id === table)!;
      give(fileName(`${name} ${sheet.title}`, 'csv'), 'text/csv', writeSheet(topology, sheet));
    } else if (ending === '.html') {
      const date = new Date().toISOString().slice(0, 10);
      give(file, format!.type, writeHtml(topology, { ...(await withFonts(picture)), seen: shown, date }));
    } else if (format) give(file, format.type, format.write(topology));
    return null;
  };
  const run = (toPrinter = false): void => {
    setBusy(true);
    setTrouble(null);
    save(toPrinter)
      .then((unwritten) => (unwritten ? setTrouble(`It is made. ${unwritten}`) : onClose()))
      .catch((error: unknown) => setTrouble(error instanceof Error ? error.message : String(error)))
      .finally(() => setBusy(false));
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ pb: 1 }}>Save the drawing</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 300px', gap: 3, minHeight: 470 }}>
        <RadioGroup aria-label="Format" value={ending} onChange={(_event, to) => setEnding(to)}>
          {ALL.map((format) => (
            <FormControlLabel
              key={format.ending}
              value={format.ending}
              control={<Radio size="small" />}
              sx={{ alignItems: 'start', m: 0, py: '3px' }}
              label={
                <Box sx={{ pt: '7px' }}>
                  <Typography component="span" sx={{ fontWeight: 700 }}>
                    {format.name}
                  </Typography>
                  <Typography component="span" className="mono" sx={{ ml: 1, color: 'var(--ink2)', fontSize: 12 }}>
                    {format.ending}
                  </Typography>
                  <Typography variant="body2" color="text.secondary">
                    {format.use}
                  </Typography>
                </Box>
              }
            />
          ))}
        </RadioGroup>
        <Box sx={{ borderLeft: '1px solid var(--line)', pl: 3 }}>
          {(isPicture || ending === '.pdf') && (
            <Setting
              label="Part"
              value={part}
              onChange={setPart}
              options={[
                { value: 'all', text: 'all of the drawing' },
                { value: 'view', text: 'what is seen just now' },
              ]}
            />
          )}
          {isPicture && (
            <Setting
              label="Tones"
              value={scheme}
              onChange={setScheme}
              options={[
                { value: 'light', text: 'light' },
                { value: 'dark', text: 'dark' },
              ]}
            />
          )}
          {(ending === '.svg' || ending === '.png') && (
            <Setting
              label="Ground"
              value={ground}
              onChange={setGround}
              options={[
                { value: 'painted', text: 'painted' },
                { value: 'clear', text: 'transparent' },
              ]}
            />
          )}
          {(ending === '.png' || ending === '.jpg') && (
            <Setting
              label="Pixels"
              value={scale}
              onChange={setScale}
              options={[
                { value: '1', text: 'as many as on the screen' },
                { value: '2', text: 'twice as many' },
                { value: '4', text: 'four times, for print' },
              ]}
            />
          )}
          {ending === '.pdf' && (
            <>
              <Setting
                label="Paper"
                value={size}
                onChange={setSize}
                options={PAPER_SIZES.map((size) => ({ value: size, text: size === 'LETTER' ? 'Letter' : size }))}
              />
              <FormControlLabel
                control={<Checkbox size="small" checked={schedules} onChange={(_event, on) => setSchedules(on)} />}
                label="with the tables of devices, addresses and links"
              />
            </>
          )}
          {ending === '.csv' && (
            <Setting
              label="Table"
              value={table}
              onChange={setTable}
              options={SHEETS.map((sheet) => ({ value: sheet.id, text: sheet.title }))}
            />
          )}
          {!isPicture && ending !== '.pdf' && ending !== '.csv' && (
            <Typography variant="body2" color="text.secondary">
              {drawnWords(topology)}.
            </Typography>
          )}
          {trouble && (
            <Alert severity="error" sx={{ mt: 2 }}>
              {trouble}
            </Alert>
          )}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {ending === '.pdf' && (
          <Button variant="outlined" disabled={busy} onClick={() => run(true)}>
            Print
          </Button>
        )}
        <Button variant="contained" disabled={busy} onClick={() => run()}>
          {busy ? 'Making the file' : 'Save'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
