import { Alert, Box, Button, Snackbar } from '@mui/material';
import {
  type Reason,
  type Topology,
  addDevices,
  moveBy,
  moveSite,
  readSubmissionText,
  removeChosen,
  sceneBox,
  sceneOf,
} from '@sobrin/core';
import { type ReactNode, useCallback, useRef, useState } from 'react';
import { fileName, give, pickText } from '../api/files';
import { newShortId } from '../api/new-id';
import { SaveTrouble } from '../documents/tools';
import { Drawing, type Flow } from '../drawing/drawing';
import { FIT } from '../drawing/zoom-buttons';
import { type Lenses } from '../drawing/link-layer';
import { isNothing, NOTHING } from '../drawing/selection';
import { Empty, TopBar } from '../ui/parts';
import { Pulse } from '../ui/pulse';
import { useFacts } from '../workers/use-facts';
import { ConflictDialog } from './conflict-dialog';
import { Inspector } from './inspector/inspector';
import { KitDialog } from './kit-dialog';
import { LinkDialog, type LinkWish } from './link-dialog';
import { SheetStrip } from './strip';
import { Toolbar } from './toolbar';
import { useBenchKeys } from './use-bench-keys';
import { useBench, useBenchStore } from './use-bench';

/** How much the bench tells: problems and what fits (coach), link states as equipment shows them (plain), or neither. */
export type Telling = 'coach' | 'plain' | 'examination';
const LENSES: Lenses = { ends: true, subnets: true, cables: false };

export function Bench({
  title,
  under,
  telling,
  pairing,
  lost,
  children,
}: {
  title: string;
  under: string;
  telling: Telling;
  pairing: { autoPairing?: boolean };
  lost: string | null;
  children?: ReactNode;
}) {
  const store = useBenchStore();
  const { document: topology, selection, select, do: run, refusal, dismiss, save } = useBench((state) => state);
  const facts = useFacts(topology, pairing);
  const [lenses, setLenses] = useState(LENSES);
  const [kit, setKit] = useState(false);
  const [wish, setWish] = useState<LinkWish | null>(null);
  const [about, setAbout] = useState(false);
  const [told, setTold] = useState(lost);
  const flow = useRef<Flow | null>(null);
  const problemAt = useRef(-1);
  const tells = telling !== 'examination';
  const problems = telling === 'coach' ? facts.problems : [];
  const isBlank = Object.keys(topology.devices).length === 0;

  const reveal = useCallback((ids: string[]) => {
    const nodes = ids.map((id) => ({ id }));
    void flow.current?.fitView({ nodes, maxZoom: Math.max(1, flow.current.getZoom()), duration: 200, padding: 0.4 });
  }, []);
  const jump = (problem: Reason): void => {
    const link = problem.at.link === undefined ? undefined : topology.links[problem.at.link];
    const device = problem.at.device?.split('/')[0];
    if (link) {
      select({ devices: [], links: [problem.at.link!], sites: [] });
      reveal([link.a.device, link.b.device]);
    } else if (device !== undefined && topology.devices[device]) {
      select({ devices: [device], links: [], sites: [] });
      reveal([device]);
    }
  };
  const nextProblem = (): void => {
    if (!problems.length) return;
    problemAt.current = (problemAt.current + 1) % problems.length;
    jump(problems[problemAt.current]!);
  };
  /** Where new things appear: to the right of what is chosen, else in the middle of what is seen. */
  const wished = (): { x: number; y: number } => {
    const chosen = selection.devices[0] === undefined ? undefined : topology.devices[selection.devices[0]];
    if (chosen) return { x: chosen.at.x + 160, y: chosen.at.y };
    const pane = document.querySelector('.drawing .react-flow')?.getBoundingClientRect();
    return pane && flow.current
      ? flow.current.screenToFlowPosition({ x: pane.x + pane.width / 2 - 60, y: pane.y + pane.height / 2 - 60 })
      : { x: 80, y: 80 };
  };
  const add = (model: string, count: number): void => {
    const site =
      selection.sites[0] ??
      (selection.devices[0] === undefined ? undefined : topology.devices[selection.devices[0]]?.site);
    const { ids, commands } = addDevices(topology, model, count, wished(), site, () => newShortId('d'));
    setKit(false);
    if (!run(count > 1 ? `add ${count} devices` : 'add a device', ...commands)) return;
    select({ devices: ids, links: [], sites: [] });
    // A moment later: the inspector that opens takes room of the drawing first.
    window.setTimeout(() => showAllIfOutside(store.getState().document, flow.current), 120);
  };
  const addSite = (): void => {
    const id = newShortId('s');
    const names = new Set(Object.values(topology.sites).map((one) => one.name));
    const number = Array.from({ length: names.size + 1 }, (_one, at) => at + 1).find((at) => !names.has(`Site ${at}`))!;
    const { x, y } = wished();
    const members = selection.devices.map((device) => ({ kind: 'setDevice', id: device, set: { site: id } }) as const);
    const area = members.length ? {} : { area: { x: Math.round(x), y: Math.round(y), width: 240, height: 140 } };
    if (run('add a site', { kind: 'setSite', id, set: { name: `Site ${number}`, ...area } }, ...members))
      select({ devices: [], links: [], sites: [id] });
  };
  const startLink = (): void => setWish({ a: selection.devices[0] ?? null, b: selection.devices[1] ?? null });
  const remove = (): void => {
    if (!isNothing(selection)) run('remove', ...removeChosen(topology, selection));
  };
  const saveFile = (): void =>
    give(fileName(topology.title ?? title, 'json'), 'application/json', `${JSON.stringify(topology, null, 1)}\n`);
  const readFile = async (): Promise<void> => {
    const file = await pickText('.json,application/json');
    if (!file) return;
    const read = readSubmissionText(file.text);
    if (!read.ok) {
      setTold(
        `${file.name} was not taken, the drawing is as it was. ${read.error
          .slice(0, 4)
          .map((one) => (one.place ? `${one.place}: ${one.text}` : one.text))
          .join(' ')}`,
      );
      return;
    }
    const { topology: drawn } = read.value;
    if (!drawn) setTold(`${file.name} holds no drawing: the drawing is as it was.`);
    else if (run('replace the drawing', { kind: 'replace', topology: drawn }))
      window.setTimeout(() => void flow.current?.fitView(FIT), 60);
  };
  useBenchKeys({
    a: () => setKit(true),
    l: startLink,
    s: addSite,
    Delete: remove,
    Backspace: remove,
    F2: () => document.getElementById('device-name')?.focus(),
    F8: nextProblem,
    Escape: () => select(NOTHING),
    arrows: (x, y) => void (selection.devices.length && run('move', moveBy(topology, selection.devices, { x, y }))),
    undo: () => store.getState().undo(),
    redo: () => store.getState().redo(),
    all: () => select({ devices: Object.keys(topology.devices), links: [], sites: [] }),
  });
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minWidth: 0 }}>
      <TopBar title={title} under={under}>
        <Toolbar
          lenses={lenses}
          onLenses={setLenses}
          onKit={() => setKit(true)}
          onLink={startLink}
          onSite={addSite}
          onAbout={() => {
            setAbout(!about);
            select(NOTHING);
          }}
          aboutShown={about}
          menu={[
            { text: 'Save the drawing as a file', run: saveFile },
            { text: 'Replace the drawing by a file…', run: () => void readFile() },
          ]}
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
          <Box sx={{ flex: 1, minHeight: 0, position: 'relative' }}>
            <Drawing
              topology={topology}
              label={`Drawing: ${title}`}
              facts={tells ? facts.links : null}
              lenses={lenses}
              selection={selection}
              onSelect={select}
              editable
              onMove={(to) => run('move', { kind: 'move', to })}
              onMoveSite={(id, by) => run('move a site', ...moveSite(topology, id, by))}
              onLink={(a, b) => setWish({ a, b })}
              onReady={(ready) => {
                flow.current = ready;
              }}
            />
            {isBlank && (
              <Box
                sx={{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'center', pointerEvents: 'none' }}
              >
                <Box sx={{ pointerEvents: 'auto' }}>
                  <Empty
                    title="An empty sheet"
                    action={
                      <Button variant="contained" onClick={() => setKit(true)}>
                        Add the first device
                      </Button>
                    }
                  >
                    Begin with the devices (<kbd>A</kbd>), then link them (<kbd>L</kbd>), then set names and addresses
                    at the right. Everything is saved at once.
                  </Empty>
                </Box>
              </Box>
            )}
          </Box>
          <SheetStrip facts={facts} tells={tells} onReveal={reveal} />
        </Box>
        <Inspector facts={facts} showDocument={about} tells={tells} />
      </Box>
      {telling === 'coach' && (
        <Pulse
          problems={problems}
          fine="every link that is drawn comes up, every address can be read"
          onJump={jump}
          onNext={nextProblem}
        />
      )}
      <KitDialog open={kit} topology={topology} onClose={() => setKit(false)} onAdd={add} />
      <LinkDialog
        wish={wish}
        topology={topology}
        helps={telling === 'coach'}
        onClose={() => setWish(null)}
        onLink={(link, again) => {
          const id = newShortId('l');
          if (run('link', { kind: 'connect', id, link })) select({ devices: [], links: [id], sites: [] });
          setWish(again ? { a: link.a.device, b: null } : null);
        }}
      />
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

/** Shows everything where something new lies outside of what is seen. */
function showAllIfOutside(topology: Topology, flow: Flow | null): void {
  const box = sceneBox(sceneOf(topology));
  const pane = document.querySelector('.drawing .react-flow')?.getBoundingClientRect();
  if (!box || !pane || !flow) return;
  const [low, high] = [
    flow.screenToFlowPosition({ x: pane.x + 16, y: pane.y + 16 }),
    flow.screenToFlowPosition({ x: pane.x + pane.width - 16, y: pane.y + pane.height - 16 }),
  ];
  if (box.x < low.x || box.y < low.y || box.x + box.width > high.x || box.y + box.height > high.y)
    void flow.fitView({ ...FIT, duration: 200 });
}
