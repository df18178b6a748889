import { Box } from '@mui/material';
import { type Spot } from '@sobrin/core/drawing';
import { wholeGroups } from '@sobrin/core/editing';
import { type Policy } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { type DragEvent, type RefObject, useMemo } from 'react';
import { Drawing } from '../drawing/drawing';
import { type Lenses } from '../drawing/lenses';
import { type LinkGrips } from '../drawing/link-handles';
import { type Selection, isNothing } from '../drawing/selection';
import { type DrawingProps } from '../drawing/drawing-props';
import { type DrawingView } from '../drawing/view';
import { lazyPart } from '../ui/lazy-part';
import { type Facts } from '../workers/facts';
import { marksOfTrace } from '../drawing/trace-marks';
import { type Reach } from './asking/use-reach';
import { type Arranging } from './hands/use-arrange';
import { type Pictures } from './hands/use-pictures';
import { ModeLines, type Modes } from './modes';
import { useBench } from './use-bench';
import { type BenchActions } from './use-bench-actions';
import { type OpenedParts } from './use-opened-parts';
import { SIGHT } from '../ui/frame';

const BlankSheet = lazyPart(() => import('./hands/blank-sheet'));

/** The drawing under one's hands, with what goes on over it. */
export function BenchDrawing({
  title,
  shown,
  facts,
  counts,
  lenses,
  reach,
  modes,
  parts,
  actions,
  arranging,
  pictures,
  kit,
  onBegin,
  onPlan,
  view,
  onMenu,
  onReady,
}: {
  title: string;
  /** The drawing with what its interfaces were given. */
  shown: Topology;
  /** What the engine says of the links; null where the bench does not tell. */
  facts: Facts['links'] | null;
  /** How many problems each device has. */
  counts: ReadonlyMap<string, number>;
  lenses: Lenses;
  /** The lens that shows whom a device reaches, while it is on. */
  reach: { from: string | null; found: Reach | null; onEnd: () => void } | null;
  modes: Modes;
  parts: OpenedParts;
  actions: BenchActions;
  arranging: Arranging;
  pictures: Pictures;
  kit: Policy['kit'];
  /** Begins from another lab; null where that is not offered. */
  onBegin: (() => void) | null;
  /** Takes subnets of the plan; null where it has none. */
  onPlan: (() => void) | null;
  view: RefObject<DrawingView | null>;
  /** A menu is asked for at a place of the screen. */
  onMenu: NonNullable<DrawingProps['onMenu']>;
  onReady: (view: DrawingView) => void;
}) {
  const { document: topology, selection, select } = useBench((state) => state);
  const { placing, traced, talk } = modes;
  const { renaming, setRenaming } = parts;
  const { field } = lenses;
  const fieldLines = useMemo(
    () =>
      field
        ? new Map(Object.entries(topology.devices).map(([id, device]) => [id, String(device.fields?.[field] ?? '–')]))
        : null,
    [field, topology.devices],
  );
  /** While links are made, a tile that is chosen is an end of the next one. */
  const pick = (next: Selection): void => {
    if (!isNothing(next)) modes.setTalk(null);
    const [device] = next.devices;
    if (!modes.linking || next.devices.length !== 1 || device === undefined)
      return select({ ...next, devices: wholeGroups(topology, next.devices) });
    if (!modes.linking.length) modes.setLinking([device]);
    else if (!modes.linking.includes(device)) {
      actions.linkPair(modes.linking, device);
      modes.setLinking([]);
    }
  };
  /** Where something is let go: it stays under the pointer, whatever opens beside the drawing then. */
  const placeAt = (client: Spot): Spot | undefined => {
    view.current?.release();
    return view.current?.placeAt(client) ?? undefined;
  };
  /** Files that are let go over the drawing: a picture is put there, anything else is read. */
  const take = async (files: readonly File[], at: Spot): Promise<void> => {
    const { mayHoldDrawing, readFiles } = await import('./files/drawing-files');
    const [first] = files;
    if (first && !mayHoldDrawing(first)) return pictures.take(first, false, at);
    const read = await readFiles(files, topology);
    if (read.ok) parts.setDialog(read.value);
    else parts.setNotice(read.error);
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    const files = [...event.dataTransfer.files];
    const at = placeAt({ x: event.clientX, y: event.clientY });
    if (files.length && at) void take(files, at);
  };
  const doneRenaming = (device: string, name: string | null): void => {
    setRenaming(null);
    const now = topology.devices[device];
    if (name !== null && now && name.trim() !== now.name) actions.rename(device, name.trim());
  };
  /** A drawing to start from takes the place of the blank one, which keeps its title, author and legend. */
  const start = (name: string, drawing: Topology): void => {
    const { title: own, author, legend } = topology;
    const mine = { ...(own && { title: own }), ...(author && { author }), ...(legend && { legend }) };
    actions.takeDrawing(`begin with ${name}`, { ...drawing, ...mine });
  };
  const grips: LinkGrips = { onReplug: actions.replug, onBends: actions.bend, onLabel: actions.moveLabel };
  return (
    <Box sx={{ ...SIGHT, position: 'relative' }} onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <Drawing
        topology={shown}
        label={`Drawing: ${title}`}
        facts={facts}
        lenses={lenses}
        selection={selection}
        onSelect={pick}
        {...(traced
          ? { marks: marksOfTrace(traced.trace, traced.at), dimOthers: true }
          : reach?.found && { marks: reach.found.marks })}
        {...(fieldLines && { seconds: fieldLines })}
        editable
        onMove={actions.move}
        grips={grips}
        marquee={modes.marquee}
        onMarqueeEnd={() => modes.setMarquee(null)}
        onPlace={placing && !placing.held ? (at) => void actions.place(placing.model, at) : undefined}
        onOpen={setRenaming}
        onMenu={onMenu}
        renaming={
          renaming !== null && topology.devices[renaming]
            ? { device: renaming, onDone: (name) => doneRenaming(renaming, name) }
            : undefined
        }
        problems={counts}
        places={arranging.flying}
        onMoveSite={actions.moveSite}
        onMoveNote={actions.moveNote}
        onMovePicture={pictures.move}
        onSizePicture={pictures.size}
        comments={{
          chosen: talk !== null && talk !== 'all' && 'id' in talk ? talk.id : null,
          onPick: (id) => modes.setTalk({ id }),
        }}
        onLink={(a, b) => actions.linkPair([a], b)}
        onReady={onReady}
      />
      <ModeLines
        modes={modes}
        arranging={arranging}
        reach={reach}
        topology={topology}
        onDrop={(model, client) => {
          const at = placeAt(client);
          if (at) actions.place(model, at);
        }}
      />
      {Object.keys(topology.devices).length === 0 && !placing && (
        <BlankSheet
          onAdd={() => parts.setKitOpen(true)}
          onBegin={onBegin}
          onPlan={onPlan}
          kit={kit}
          onStart={({ name, make }) => start(name, make())}
        />
      )}
    </Box>
  );
}
