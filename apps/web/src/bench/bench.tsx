import { Alert, Box, Snackbar } from '@mui/material';
import { type EngineOptions, type Policy, type Spot, namingScheme, wholeGroups } from '@sobrin/core';
import { type ReactNode, Suspense, lazy, useEffect, useMemo, useRef, useState } from 'react';
import { SaveTrouble } from '../documents/tools';
import { Drawing } from '../drawing/drawing';
import { type LinkGrips } from '../drawing/link-handles';
import { type Lenses } from '../drawing/lenses';
import { NOTHING, type Selection, isNothing } from '../drawing/selection';
import { type DrawingView } from '../drawing/view';
import { TopBar } from '../ui/parts';
import { Pulse } from '../ui/pulse';
import { type Facts } from '../workers/facts';
import { type TraceAnswer, type TraceRequest } from '../workers/trace-answer';
import { useEngine } from '../workers/use-facts';
import { benchMenu, menuKeys } from './bench-menu';
import { SidePanels } from './side-panels';
import { BlankSheet } from './blank-sheet';
import { runAction } from './run-action';
import { COMMAND_FIELD_ID, CommandField } from './command-field';
import { ConflictDialog } from './conflict-dialog';
import { mayHoldDrawing, readFiles } from './drawing-files';
import { type FileDialog, FileDialogs } from './file-dialogs';
import { Inspector } from './inspector/inspector';
import { KitDialog } from './kit-dialog';
import { LinkDialog, type LinkWish } from './link-dialog';
import { lookAt } from './look-at';
import { ModeLines, useModes } from './modes';
import { usePlanOfLab } from './plan-of-lab';
import { type Listed, SheetStrip } from './strip';
import { Toolbar } from './toolbar';
import { type ReachView } from './reach-dialog';
import { marksOfTrace } from './trace-panel';
import { useArrange } from './use-arrange';
import { useBench, useBenchStore } from './use-bench';
import { type BenchOpeners, useBenchActions } from './use-bench-actions';
import { useProblems } from './use-problems';
import { useReach } from './use-reach';
import { useBenchKeys } from './use-bench-keys';
import { usePictures } from './use-pictures';
import { useClipboard } from './use-clipboard';

/** It brings much along, and not everybody wants it. */
const ReachDialog = lazy(() => import('./reach-dialog'));

/** How much the bench tells: problems and what fits (coach), link states as equipment shows them (plain), or neither. */
export type Telling = 'coach' | 'plain' | 'examination';
const NO_PROBLEMS: Facts['problems'] = [];
const LENSES: Lenses = { ends: true, subnets: true, cables: false };

export function Bench({
  title,
  under,
  telling,
  automatic,
  kit,
  modules,
  equipment,
  owned = false,
  lost,
  children,
}: {
  title: string;
  under: string;
  telling: Telling;
  /** Whether Sobrin may choose ports and media. */
  automatic: boolean;
  /** The models that the lab allows; absent for all. */
  kit?: Policy['kit'];
  /** When modules may be changed; absent for at any time. */
  modules?: Policy['modules'];
  equipment: Partial<EngineOptions>;
  /** Whether it is the reference of the lab around it, of somebody who teaches. */
  owned?: boolean;
  lost: string | null;
  children?: ReactNode;
}) {
  const store = useBenchStore();
  const { document: topology, selection, select, refusal, dismiss, save } = useBench((state) => state);
  const engine = useEngine(topology, equipment);
  const { facts } = engine;
  const plan = usePlanOfLab();
  const [lenses, setLenses] = useState(LENSES);
  const [kitOpen, setKitOpen] = useState(false);
  const [wish, setWish] = useState<LinkWish | null>(null);
  const [listed, setListed] = useState<Listed | null>(null);
  const [renaming, setRenaming] = useState<string | null>(null);
  const [about, setAbout] = useState(false);
  const [dialog, setDialog] = useState<FileDialog | null>(null);
  const [reaching, setReaching] = useState<ReachView | null>(null);
  const [texting, setTexting] = useState(false);
  const [told, setTold] = useState(lost);
  const view = useRef<DrawingView | null>(null);
  const tells = telling !== 'examination';
  const problems = telling === 'coach' ? facts.problems : NO_PROBLEMS;
  const isBlank = Object.keys(topology.devices).length === 0;

  const reachFrom = lenses.reach && tells && selection.devices.length === 1 ? selection.devices[0]! : null;
  const reach = useReach(engine.ask, reachFrom);
  const { field } = lenses;
  const fieldLines = useMemo(
    () =>
      field
        ? new Map(Object.entries(topology.devices).map(([id, one]) => [id, String(one.fields?.[field] ?? '–')]))
        : null,
    [field, topology.devices],
  );

  const modes = useModes();
  const { placing } = modes;
  const pictures = usePictures(setTold);
  const arranging = useArrange(() => window.setTimeout(() => view.current?.showAll(), 60));
  const mayAsk = (): boolean => {
    if (!tells) setTold('In this lab the bench does not say who reaches whom.');
    return tells;
  };
  const send = (wish: TraceRequest, before: TraceAnswer | null): void =>
    void engine.ask('trace', wish).then((trace) => {
      modes.setTraced({ trace, before, at: trace.steps.length - 1 });
      // The panel takes room of the drawing.
      if (!modes.traced) lookAt(view).reveal(trace.steps.map(({ device }) => device));
    });
  const { ask } = engine;
  const opens: BenchOpeners = {
    kit: () => setKitOpen(true),
    arrange: arranging.start,
    wish: setWish,
    linking: modes.setLinking,
    marquee: modes.setMarquee,
    comment: modes.setTalk,
    picture: (beneath, middle) => {
      modes.setTalk(null);
      pictures.choose(beneath, middle);
    },
    rename: setRenaming,
    list: (sheet, devices) => setListed({ sheet, devices }),
    trace: (from, to, typed) => mayAsk() && send({ from, to, typed }, null),
    tables: (device) => mayAsk() && modes.setTabled(device),
    ask: (about) => mayAsk() && setReaching(about),
    about: () => {
      setAbout(true);
      select(NOTHING);
    },
    save: () => setDialog('save'),
    text: () => setTexting(!texting),
    versions: () => setDialog('versions'),
    ...(owned && { showing: () => setDialog('showing'), begin: () => setDialog('begin') }),
    read: setDialog,
    tell: setTold,
  };
  const actions = useBenchActions({ view, automatic, plan, kit: kit ?? null, opens });
  const menu = benchMenu(topology, selection, actions, opens);
  /** Files that are let go over the drawing: a picture is put there, anything else is read. */
  const take = async (files: readonly File[], at: Spot): Promise<void> => {
    const [first] = files;
    if (first && !mayHoldDrawing(first)) return pictures.take(first, false, at);
    const read = await readFiles(files, topology);
    if (read.ok) setDialog(read.value);
    else setTold(read.error);
  };
  // The text takes room of the drawing.
  useEffect(() => {
    if (!texting) return;
    const timer = window.setTimeout(() => view.current?.showAllIfOutside(), 200);
    return () => window.clearTimeout(timer);
  }, [texting]);
  const pulse = useProblems({ problems, equipment, plan, choose: actions.choose });
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
  const keys = menuKeys(menu);
  const grips: LinkGrips = { onReplug: actions.replug, onBends: actions.bend, onLabel: actions.moveLabel };
  useClipboard({
    topology,
    chosen: selection.devices,
    onPaste: (part) => void actions.paste(part),
    onCut: actions.remove,
    onTell: setTold,
  });
  useBenchKeys({
    ...keys,
    '/': () => document.getElementById(COMMAND_FIELD_ID)?.focus(),
    Backspace: keys.Delete,
    'ctrl y': keys['ctrl shift z'],
    e: () => document.querySelector<HTMLElement>('[aria-label=Inspector] input[aria-label^="Address of"]')?.focus(),
    F8: pulse.next,
    Escape: () => {
      if (arranging.progress) arranging.cancel();
      else if (modes.end()) return;
      else if (lenses.reach) setLenses({ ...lenses, reach: false });
      else select(NOTHING);
    },
    arrows: actions.nudge,
  });
  const context = useMemo(
    () => ({
      topology,
      chosen: selection.devices,
      automatic,
      plan,
      namingScheme: namingScheme(plan?.brief),
      menu: menu.filter((entry) => !entry.off).map(({ id, text, keys }) => ({ id, text, ...(keys && { more: keys }) })),
    }),
    [topology, selection.devices, automatic, plan, menu],
  );
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minWidth: 0 }}>
      <TopBar title={title} under={under}>
        <CommandField
          context={context}
          onTake={({ action }) => action !== null && runAction(action, actions, menu, opens)}
        />
        <Toolbar
          lenses={lenses}
          onLenses={setLenses}
          tells={tells}
          menu={menu}
          aboutShown={about}
          onAbout={() => {
            setAbout(!about);
            select(NOTHING);
          }}
        />
        {children}
      </TopBar>
      <SaveTrouble
        save={save}
        what="drawing"
        onRetry={() => store.getState().retry()}
        onGiveUp={() => store.getState().giveUp()}
      />
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Box
            sx={{ flex: 1, minHeight: 0, position: 'relative' }}
            onDragOver={(event) => event.preventDefault()}
            onDrop={(event) => {
              event.preventDefault();
              const files = [...event.dataTransfer.files];
              const at = view.current?.placeAt({ x: event.clientX, y: event.clientY });
              if (files.length && at) void take(files, at);
            }}
          >
            <Drawing
              topology={topology}
              label={`Drawing: ${title}`}
              facts={tells ? facts.links : null}
              lenses={lenses}
              selection={selection}
              onSelect={pick}
              {...(modes.traced
                ? { marks: marksOfTrace(modes.traced.trace, modes.traced.at), dimOthers: true }
                : reach && { marks: reach.marks })}
              {...(fieldLines && { seconds: fieldLines })}
              editable
              onMove={actions.move}
              grips={grips}
              marquee={modes.marquee}
              onMarqueeEnd={() => modes.setMarquee(null)}
              onPlace={placing && !placing.held ? (at) => void actions.place(placing.model, at) : undefined}
              onOpen={setRenaming}
              renaming={
                renaming !== null && topology.devices[renaming]
                  ? {
                      device: renaming,
                      onDone: (name) => {
                        setRenaming(null);
                        const now = topology.devices[renaming];
                        if (name !== null && now && name.trim() !== now.name) actions.rename(renaming, name.trim());
                      },
                    }
                  : undefined
              }
              problems={pulse.counts}
              places={arranging.flying}
              onMoveSite={actions.moveSite}
              onMoveNote={actions.moveNote}
              onMovePicture={pictures.move}
              onSizePicture={pictures.size}
              comments={{
                chosen: modes.talk !== null && modes.talk !== 'all' && 'id' in modes.talk ? modes.talk.id : null,
                onPick: (id) => modes.setTalk({ id }),
              }}
              onLink={(a, b) => actions.linkPair([a], b)}
              onReady={(ready) => {
                view.current = ready;
              }}
            />
            <ModeLines
              modes={modes}
              arranging={arranging}
              reach={
                lenses.reach && tells
                  ? { from: reachFrom, found: reach, onEnd: () => setLenses({ ...lenses, reach: false }) }
                  : null
              }
              topology={topology}
              onDrop={(model, client) => {
                const at = view.current?.placeAt(client);
                if (at) actions.place(model, at);
              }}
            />
            {isBlank && !placing && (
              <BlankSheet
                onAdd={() => setKitOpen(true)}
                onBegin={opens.begin ?? null}
                kit={kit}
                onStart={({ name, make }) => {
                  const { title: own, author, legend } = topology;
                  const kept = { ...(own && { title: own }), ...(author && { author }), ...(legend && { legend }) };
                  actions.takeDrawing(`begin with ${name}`, { ...make(), ...kept });
                }}
              />
            )}
          </Box>
          <SheetStrip
            facts={facts}
            tells={tells}
            listed={listed}
            onListed={setListed}
            onReveal={actions.reveal}
            onTell={setTold}
          />
        </Box>
        <SidePanels
          modes={modes}
          ask={ask}
          onSend={send}
          text={texting ? { kit, onClose: () => setTexting(false) } : null}
          inspector={<Inspector facts={facts} showDocument={about} tells={tells} menu={menu} modules={modules} />}
        />
      </Box>
      {telling === 'coach' && (
        <Pulse
          problems={problems}
          fine="every link that is drawn comes up, every address can be read"
          onJump={pulse.jump}
          onNext={pulse.next}
          repairOf={pulse.repairText}
          onRepair={pulse.mend}
        />
      )}
      <KitDialog
        open={kitOpen}
        topology={topology}
        kit={kit}
        onClose={() => setKitOpen(false)}
        onTake={(model, held) => {
          setKitOpen(false);
          modes.setPlacing({ model, held });
        }}
        onAdd={(model, count) => {
          setKitOpen(false);
          actions.add(model, count);
        }}
      />
      <LinkDialog
        wish={wish}
        topology={topology}
        helps={telling === 'coach'}
        automatic={automatic}
        onClose={() => setWish(null)}
        onLink={(link, again) => {
          if (wish?.replaces) actions.rewire(wish.replaces.id, link);
          else actions.connect(link);
          setWish(again ? { a: link.a.device, b: null } : null);
        }}
      />
      {pictures.asking}
      <FileDialogs
        open={dialog}
        actions={actions}
        owned={owned}
        onRead={setDialog}
        title={title}
        facts={tells ? facts.links : null}
        lenses={lenses}
        view={view}
        onClose={() => setDialog(null)}
      />
      {reaching && (
        <Suspense fallback={null}>
          <ReachDialog
            view={reaching}
            topology={topology}
            title={title}
            ask={ask}
            onView={setReaching}
            onTrace={(wish) => {
              setReaching(null);
              send(wish, null);
            }}
            onClose={() => setReaching(null)}
          />
        </Suspense>
      )}
      <ConflictDialog />
      <Snackbar open={refusal !== null} autoHideDuration={8000} onClose={dismiss} message={refusal} />
      <Snackbar
        open={told !== null}
        onClose={(_event, why) => why !== 'clickaway' && setTold(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
      >
        <Alert severity="error" onClose={() => setTold(null)} sx={{ maxWidth: 640 }}>
          {told}
        </Alert>
      </Snackbar>
    </Box>
  );
}
