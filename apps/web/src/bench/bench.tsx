import { Box } from '@mui/material';
import { subnetsOf } from '@sobrin/core/editing';
import { type EngineOptions } from '@sobrin/core/engine';
import { type Policy } from '@sobrin/core/spec';
import { withGiven } from '@sobrin/core/topology';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { SaveTrouble } from '../documents/tools';
import { isNothing } from '../drawing/selection';
import { type DrawingView } from '../drawing/view';
import { DESK, PAGE } from '../ui/frame';
import { lazyPart } from '../ui/lazy-part';
import { useOwnKeys } from '../ui/keys/shortcuts';
import { TopBar } from '../ui/top-bar';
import { Pulse } from '../ui/pulse';
import { type Facts, NO_FACTS } from '../workers/facts';
import { useEngine } from '../workers/use-facts';
import { useAsking } from './asking/use-asking';
import { BenchDialogs } from './bench-dialogs';
import { BenchDrawing } from './bench-drawing';
import { benchMenu, portMenu } from './bench-menu';
import { benchOpeners } from './bench-openers';
import { ContextMenu, type ContextMenuProps } from './context-menu';
import { CommandField } from './command/command-field';
import { runAction } from './command/run-action';
import { useCommandContext } from './command/use-command-context';
import { type HelpLevel } from './help-level';
import { useArrange } from './hands/use-arrange';
import { useClipboard } from './hands/use-clipboard';
import { usePictures } from './hands/use-pictures';
import { lookAt } from './look-at';
import { useModes } from './modes';
import { usePlanOfLab } from './plan-of-lab';
import { SidePanels } from './side-panels';
import { SheetStrip } from './strip/strip';
import { Toolbar } from './toolbar';
import { useBench, useBenchStore } from './use-bench';
import { useBenchActions } from './use-bench-actions';
import { useOpenedParts } from './use-opened-parts';
import { useProblems } from './use-problems';
import { useRoomForText } from './use-room-for-text';
import { useBenchKeys } from './use-bench-keys';

const Inspector = lazyPart(() => import('./inspector/inspector'));

/** Whether one comes from the plan to take it to the bench: so its address says, once. */
function useAskedForPlan(): boolean {
  const [search, setSearch] = useSearchParams();
  const [isAsked] = useState(() => search.get('from') === 'plan');
  useEffect(() => {
    if (isAsked) setSearch({}, { replace: true });
  }, [isAsked, setSearch]);
  return isAsked;
}

const NO_PROBLEMS: Facts['problems'] = [];
const NO_GIVEN: Facts['given'] = [];

export function Bench({
  title,
  under,
  help,
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
  help: HelpLevel;
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
  const state = useBench((all) => all);
  const { document: topology, selection } = state;
  const { facts, ask } = useEngine(topology, equipment);
  const plan = usePlanOfLab();
  const parts = useOpenedParts(lost, useAskedForPlan());
  const modes = useModes();
  const view = useRef<DrawingView | null>(null);
  const [asked, setAsked] = useState<Pick<ContextMenuProps, 'at' | 'port' | 'open'>>({
    at: { x: 0, y: 0 },
    port: null,
    open: false,
  });
  const showsEngine = help !== 'examination';
  const problems = help === 'coach' ? facts.problems : NO_PROBLEMS;
  const linkFacts = showsEngine ? facts.links : null;
  // What was leased is an answer like those of the problems: it is shown where these are.
  const given = help === 'coach' ? facts.given : NO_GIVEN;
  const shown = useMemo(() => withGiven(topology, given), [topology, given]);

  const pictures = usePictures(parts.setNotice);
  const arranging = useArrange(() => lookAt(view).later((of) => of.showAll()));
  const asking = useAsking({ ask, modes, view, isAllowed: showsEngine });
  const opens = benchOpeners({
    store,
    parts,
    modes,
    pictures,
    arranging,
    asking,
    showsEngine,
    owned,
    // Students configure their own drawings: what the plan says is not put there for them.
    hasPlan: owned && plan !== undefined,
  });
  const actions = useBenchActions({ view, automatic, plan, kit: kit ?? null, opens });
  const entries = benchMenu(topology, selection, actions, opens);
  const menu = useOwnKeys(entries);
  const pulse = useProblems({ problems, ask, equipment, plan, choose: actions.choose });
  useBenchKeys({ menu: entries, actions, modes, arranging, nextProblem: pulse.next, endLens: asking.endReach });
  useClipboard({
    topology,
    chosen: selection.devices,
    onPaste: (part) => void actions.paste(part),
    onCut: actions.remove,
    onTell: parts.setNotice,
  });
  useRoomForText(parts.isTextOpen, view);
  // A sentence about what could not be done, or about the drawing as it was, is over with the next thing that one does.
  const { setNotice, setAnswer } = parts;
  useEffect(
    () =>
      store.subscribe(({ past }, before) => {
        if (past === before.past) return;
        setNotice(null);
        setAnswer(null);
      }),
    [store, setNotice, setAnswer],
  );
  const context = useCommandContext({ automatic, plan, menu });
  return (
    <Box
      sx={PAGE}
      // Whoever reaches for the bench will choose something next.
      onPointerEnter={Inspector.ahead}
      onFocus={Inspector.ahead}
    >
      <TopBar title={title} under={under}>
        <CommandField
          context={context}
          onTake={({ action }) => action !== null && runAction(action, actions, menu, opens)}
        />
        <Toolbar
          lenses={asking.lenses}
          onLenses={asking.setLenses}
          showsEngine={showsEngine}
          menu={menu}
          aboutShown={parts.isAboutShown}
          onAbout={() => (parts.isAboutShown ? parts.setAboutShown(false) : opens.about())}
        />
        {children}
      </TopBar>
      <SaveTrouble state={state} what="drawing" />
      <Box sx={DESK}>
        <Box sx={{ flex: 1, minWidth: 0, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
          <BenchDrawing
            title={title}
            shown={shown}
            facts={linkFacts}
            counts={pulse.counts}
            lenses={asking.lenses}
            reach={asking.reach}
            modes={modes}
            parts={parts}
            actions={actions}
            arranging={arranging}
            pictures={pictures}
            kit={kit}
            onBegin={opens.begin ?? null}
            onPlan={plan && subnetsOf(plan).length ? (opens.fromPlan ?? null) : null}
            view={view}
            onMenu={(at, port) => setAsked({ at, port, open: true })}
            onReady={(ready) => {
              view.current = ready;
            }}
          />
          <SheetStrip
            facts={facts}
            showsEngine={showsEngine}
            listed={parts.listed}
            onListed={parts.setListed}
            onReveal={actions.reveal}
            onTell={parts.setNotice}
            onTable={parts.setDialog}
          />
        </Box>
        <SidePanels
          modes={modes}
          ask={ask}
          onSend={asking.send}
          helps={help === 'coach'}
          text={parts.isTextOpen ? { kit, onClose: () => parts.setTextOpen(false) } : null}
          inspector={
            (parts.isAboutShown || !isNothing(selection)) && (
              <Inspector
                facts={facts}
                showDocument={parts.isAboutShown}
                showsEngine={showsEngine}
                menu={menu}
                modules={modules}
              />
            )
          }
        />
      </Box>
      {help === 'coach' && (
        <Pulse
          problems={pulse.told.map(({ problem }) => problem)}
          following={pulse.told.map(({ following }) => following)}
          fine={
            Object.keys(topology.devices).length
              ? 'every link that is drawn comes up, every address can be read'
              : 'nothing is drawn yet'
          }
          isKnown={facts !== NO_FACTS}
          onJump={pulse.jump}
          onNext={pulse.next}
          repairOf={pulse.repairText}
          onRepair={pulse.mend}
        />
      )}
      <ContextMenu
        {...asked}
        ofPort={(port) => portMenu(topology, port, actions, opens)}
        menu={menu}
        selection={selection}
        onClose={() => setAsked({ ...asked, open: false })}
      />
      {pictures.asking}
      <BenchDialogs
        parts={parts}
        actions={actions}
        setPlacing={modes.setPlacing}
        title={title}
        help={help}
        automatic={automatic}
        owned={owned}
        plan={plan}
        kit={kit}
        shown={shown}
        facts={linkFacts}
        lenses={asking.lenses}
        view={view}
        ask={ask}
        onSend={(request) => asking.send(request, null)}
      />
    </Box>
  );
}
