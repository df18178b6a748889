import '@xyflow/react/dist/base.css';
import './drawing.css';
import { type Box, type Scene } from '@sobrin/core/drawing';
import { type Connection, ConnectionMode, ReactFlow, ViewportPortal } from '@xyflow/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { type DrawingProps } from './drawing-props';
import { CommentPins } from './comment-pins';
import { FlyingLinks } from './flying-links';
import { FarLayer } from './far-layer';
import { LegendView } from './legend-node';
import { LinkHandles } from './link-handles';
import { type Lenses } from './lenses';
import { chosenAt, portAt } from './menu-target';
import { LinkLayer } from './link-layer';
import { type Mark } from './marks';
import { MarqueeShape } from './marquee';
import { GuideLines } from './guide-lines';
import { type DrawingNode } from './nodes';
import { NoteView } from './note-node';
import { PictureSizes, PictureView } from './picture-node';
import { NOTHING, chosenIds } from './selection';
import { SiteView } from './site-node';
import { SizeWatch } from './size-watch';
import { TileNames, TileView } from './tile-node';
import { useMoved, useMoving } from './use-moving';
import { useNodes } from './use-nodes';
import { usePicking } from './use-picking';
import { useScene } from './use-scene';
import { goToPart } from '../ui/focus/parts';
import { lazyPart } from '../ui/lazy-part';
import { useSight } from './use-sight';
import { ZOOM } from './view';
import { ZoomButtons } from './zoom-buttons';

const NODE_TYPES = { tile: TileView, site: SiteView, legend: LegendView, note: NoteView, picture: PictureView };
const NO_MARKS: ReadonlyMap<string, Mark> = new Map();
const NO_SECONDS: ReadonlyMap<string, string> = new Map();
const NO_LENSES: Lenses = { ends: false, subnets: false, cables: false };
/** Up to so many devices everything is drawn, wherever it is; of more only what is in sight. */
const FEW = 150;
/** A hand that moves by no more pixels between press and release has clicked. */
const TREMBLE = 4;

/** What is heard of what one can do with a tile. Moves are said by what is done, not by where it was before. */
const heard = (what: string) => ({
  'node.a11yDescription.default': what,
  'node.a11yDescription.keyboardDisabled': what,
  'node.a11yDescription.ariaLiveMessage': () => '',
});
const EDITED = heard('Enter chooses, Shift Enter adds, arrows move, Delete removes');
const CHOSEN = heard('Enter chooses');
const READ = heard('');

/** The device of which something is pointed at. */
const deviceAt = (target: EventTarget): string | null =>
  target instanceof Element
    ? ((target.closest('[data-device]') ?? target.querySelector(':scope > [data-device]'))?.getAttribute(
        'data-device',
      ) ?? null)
    : null;

/** A topology as a drawing one can pan, zoom and, where allowed, move and link. Documents go in, what people mean to do comes out. */
export function Drawing(props: DrawingProps) {
  const {
    topology,
    label,
    facts = null,
    lenses,
    selection = NOTHING,
    onSelect,
    marks,
    seconds = NO_SECONDS,
    dimOthers = false,
    editable = false,
    onReady,
    problems,
  } = props;
  const moved = useMoved();
  const { moving } = moved;
  const [linking, setLinking] = useState(false);
  const root = useRef<HTMLDivElement>(null);
  const latest = useRef<Scene | null>(null);
  const picked = useRef(selection);
  const { seen, view, follow, sized, ready, showAll, release } = useSight(root, latest, onReady, picked, props.onMoved);
  const isLarge = Object.keys(topology.devices).length > FEW;
  const far = seen?.far ?? false;
  const shown = far ? NO_LENSES : lenses;
  // Seen from far nothing is written, and nothing is known before the first look.
  const texts = !isLarge || (seen !== null && !far);
  const { scene, flying } = useScene({ topology, facts, lenses: shown, moved, places: props.places, texts });
  useEffect(() => {
    latest.current = scene;
    picked.current = selection;
  }, [scene, selection]);
  const { hovered, modifiers, pickLink, ...picking } = usePicking({
    scene,
    view,
    byPlace: isLarge && far,
    selection,
    onSelect,
    shape: props.marquee ?? null,
    onShapeEnd: props.onMarqueeEnd,
    onPlace: props.onPlace,
  });
  const chosen = useMemo(() => chosenIds(selection), [selection]);
  const deviceMarks = marks?.devices ?? NO_MARKS;
  const nodes = useNodes({
    topology,
    scene,
    chosen,
    marks,
    seconds,
    dimOthers,
    editable,
    subnetsShown: lenses.subnets,
    problems,
    renaming: props.renaming?.device ?? null,
    moving,
    hovered,
    seen,
    isLarge,
  });
  const { onNodesChange, sizes } = useMoving({
    moved,
    topology,
    scene,
    chosenDevices: chosen.devices,
    selection,
    onSelect,
    editable,
    seen,
    modifiers,
    handlers: props,
  });
  return (
    <div
      ref={root}
      // A press on the sheet gives it the focus: there its keys are heard.
      tabIndex={-1}
      className={[
        'drawing',
        lenses.names === false && 'nameless',
        scene.pictures.some((picture) => picture.beneath) && 'over-picture',
        linking && 'linking',
        props.marquee && 'choosing',
        props.onPlace && 'placing',
      ]
        .filter(Boolean)
        .join(' ')}
      onPointerDownCapture={(event) => {
        release();
        picking.begin(event);
      }}
      onWheelCapture={release}
      {...(props.onPoint && {
        onPointerOver: ({ target }) => props.onPoint?.(deviceAt(target)),
        onPointerLeave: () => props.onPoint?.(null),
        onFocus: ({ target }) => props.onPoint?.(deviceAt(target)),
        onBlur: () => props.onPoint?.(null),
      })}
      // The library would move the whole drawing meanwhile.
      onMouseDownCapture={(event) => {
        if (picking.takes(event)) event.stopPropagation();
      }}
      onPointerMove={picking.hover}
      onKeyDownCapture={picking.pickByKey}
      onContextMenu={(event) => {
        if (!props.onMenu || (event.target as Element).closest('input, textarea')) return;
        event.preventDefault();
        const client = { x: event.clientX, y: event.clientY };
        const port = portAt(scene, view.current?.placeAt(client) ?? null);
        onSelect?.(port ? { ...NOTHING, links: [port.link] } : chosenAt(event.target, selection));
        props.onMenu(client, port);
      }}
    >
      <button type="button" className="skip" data-line onClick={() => goToPart(1)}>
        Skip the drawing
      </button>
      <PictureSizes value={sizes}>
        <TileNames value={props.renaming}>
          <ReactFlow<DrawingNode>
            aria-label={label}
            ariaLabelConfig={editable ? EDITED : onSelect ? CHOSEN : READ}
            nodes={nodes}
            edges={[]}
            nodeTypes={NODE_TYPES}
            onNodesChange={onNodesChange}
            connectionMode={ConnectionMode.Loose}
            onConnectStart={() => setLinking(true)}
            onConnectEnd={() => setLinking(false)}
            onConnect={({ source, target }: Connection) => source !== target && props.onLink?.(source, target)}
            onPaneClick={picking.clickPane}
            onNodeDoubleClick={(_event, node) => node.type === 'tile' && props.onOpen?.(node.id)}
            onInit={ready}
            onMoveStart={() => root.current?.classList.add('moving')}
            onMoveEnd={() => root.current?.classList.remove('moving')}
            onMove={(event, viewport) => follow(viewport, event !== null)}
            nodesConnectable={editable}
            edgesFocusable={false}
            elevateNodesOnSelect={false}
            selectNodesOnDrag={false}
            nodeDragThreshold={TREMBLE}
            nodeClickDistance={TREMBLE}
            selectionKeyCode={null}
            multiSelectionKeyCode={['Meta', 'Control', 'Shift']}
            zoomOnDoubleClick={false}
            deleteKeyCode={null}
            minZoom={ZOOM.least}
            maxZoom={ZOOM.most}
            proOptions={{ hideAttribution: true }}
          >
            <ViewportPortal>
              {isLarge && far && seen && (
                <FarLayer scene={scene} facts={facts} marks={deviceMarks} area={seen.area} scale={seen.scale} />
              )}
              {lenses.page && <PageFrame topology={topology} scene={scene} />}
              <LinkLayer
                topology={topology}
                scene={flying && moving ? moving.rest : scene}
                facts={facts}
                lenses={shown}
                selected={chosen.links}
                marks={marks?.links ?? NO_MARKS}
                portMarks={marks?.ports ?? NO_MARKS}
                dimOthers={dimOthers}
                area={isLarge ? (far ? NOWHERE : (seen?.area ?? NOWHERE)) : null}
                always={chosen.links}
                without={flying}
                onPick={onSelect && pickLink}
              />
              {props.comments && !(isLarge && far) && <CommentPins pins={scene.comments} {...props.comments} />}
              {flying && !far && (
                <FlyingLinks scene={scene} links={flying} area={isLarge ? (seen?.area ?? null) : null} facts={facts} />
              )}
              {moving && <GuideLines guides={moving.guides} />}
              {editable && props.grips && selection.links.length === 1 && (
                <LinkHandles
                  topology={topology}
                  scene={scene}
                  link={selection.links[0]!}
                  grips={props.grips}
                  placeAt={(client) => view.current?.placeAt(client) ?? null}
                />
              )}
            </ViewportPortal>
            <SizeWatch onSize={sized} />
            <ZoomButtons onAll={showAll} />
          </ReactFlow>
        </TileNames>
      </PictureSizes>
      <MarqueeShape drawn={picking.drawn} />
    </div>
  );
}

/** Comes with what is printed: not before it is asked for. */
const PageFrame = lazyPart(() => import('./page-frame'));
const NOWHERE: Box = { x: 0, y: 0, width: 0, height: 0 };
