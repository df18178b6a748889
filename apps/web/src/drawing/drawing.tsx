import '@xyflow/react/dist/base.css';
import './drawing.css';
import {
  type Box,
  type Guide,
  type Spot,
  type Topology,
  SceneKeeper,
  pickAt,
  tilesInBox,
  tilesInLasso,
} from '@sobrin/core';
import {
  type Connection,
  ConnectionMode,
  type NodeChange,
  ReactFlow,
  type ReactFlowInstance,
  type Viewport,
  ViewportPortal,
  useStore,
} from '@xyflow/react';
import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type LinkFact } from '../workers/facts';
import { CommentPins } from './comment-pins';
import { FlyingLinks, manyLinksOf } from './flying-links';
import { FarLayer } from './far-layer';
import { LegendView } from './legend-node';
import { type LinkGrips, LinkHandles } from './link-handles';
import { type Lenses } from './lenses';
import { LinkLayer, middleSizes } from './link-layer';
import { type Mark, type Marks } from './marks';
import { type MarqueeKind, MarqueeShape, useMarquee } from './marquee';
import { type Moved, movedBy, snapped } from './moving';
import { type DrawingNode, NOTE_PREFIX, NodeFactory, PICTURE_PREFIX, SITE_PREFIX, inArea } from './nodes';
import { NoteView } from './note-node';
import { PictureSizes, type PictureSizing, PictureView } from './picture-node';
import { type Selection, NOTHING } from './selection';
import { SiteView } from './site-node';
import { TileNames, type TileRenaming, TileView } from './tile-node';
import { type DrawingView, type Seen, ZOOM, seenFrom, viewOf } from './view';
import { ZoomButtons } from './zoom-buttons';

const NODE_TYPES = { tile: TileView, site: SiteView, legend: LegendView, note: NoteView, picture: PictureView };
const NO_MARKS: ReadonlyMap<string, Mark> = new Map();
const NO_SECONDS: ReadonlyMap<string, string> = new Map();
const NO_LENSES: Lenses = { ends: false, subnets: false, cables: false };
/** Up to so many devices everything is drawn, wherever it is; of more only what is in sight. */
const FEW = 150;
/** So many chosen tiles are drawn one by one in a large drawing seen from far. */
const FEW_CHOSEN = 60;
/** So long after the last step of zooming what came into sight is drawn. */
const ZOOM_PAUSE_MS = 90;
/** A wheel that moves sideways is a trackpad, and stays one for so long. */
const PAD_MS = 500;
/** How near a click must be to a link, in pixels of the screen. */
const REACH = 7;

export interface DrawingProps {
  topology: Topology;
  label: string;
  facts?: Readonly<Record<string, LinkFact>> | null;
  lenses: Lenses;
  selection?: Selection;
  onSelect?: (selection: Selection) => void;
  marks?: Marks;
  /** Other second lines for some tiles, for instance the role a device plays. */
  seconds?: ReadonlyMap<string, string>;
  dimOthers?: boolean;
  editable?: boolean;
  onMove?: (to: Record<string, Spot>) => void;
  onMoveSite?: (id: string, by: Spot) => void;
  onMoveNote?: (id: string, by: Spot) => void;
  onMovePicture?: (id: string, by: Spot) => void;
  onSizePicture?: (id: string, box: Box) => void;
  /** Shows the pins of comments, and opens the one that is picked. */
  comments?: { chosen: string | null; onPick: (id: string) => void } | undefined;
  onLink?: (from: string, to: string) => void;
  /** What can be done with the grips of a link that is chosen. */
  grips?: LinkGrips;
  /** The next drag on the drawing chooses what lies in its shape. */
  marquee?: MarqueeKind | null;
  onMarqueeEnd?: () => void;
  /** A click at an empty place. */
  onPlace?: ((at: Spot) => void) | undefined;
  /** A double click on a device. */
  onOpen?: (device: string) => void;
  renaming?: TileRenaming | undefined;
  onReady?: (view: DrawingView) => void;
  /** How many problems each device has, for those who hear the drawing. */
  problems?: ReadonlyMap<string, number>;
  /** Other places for some devices, while they move to new ones. */
  places?: ReadonlyMap<string, Spot> | undefined;
}

/** A topology as a drawing one can pan, zoom and, where allowed, move and link. Documents go in, wishes come out. */
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
  const [moving, setMoving] = useState<Moved | null>(null);
  const [seen, setSeen] = useState<Seen | null>(null);
  const [linking, setLinking] = useState(false);
  const [sizing, setSizing] = useState<ReadonlyMap<string, Box> | undefined>(undefined);
  const [hovered, setHovered] = useState<string | null>(null);
  const [factory] = useState(() => new NodeFactory());
  const [keeper] = useState(() => new SceneKeeper());
  const root = useRef<HTMLDivElement>(null);
  const modifiers = useRef({ add: false, free: false });
  const isLarge = Object.keys(topology.devices).length > FEW;
  const far = seen?.far ?? false;
  const shown = far ? NO_LENSES : lenses;
  const at = moving?.devices ?? props.places;
  const middles = useMemo(() => middleSizes(topology, facts, shown), [topology, facts, shown]);
  const flying = useMemo(() => manyLinksOf(topology, moving?.ids), [topology, moving?.ids]);
  const carried = moving?.carried;
  const light = flying !== null;
  const picture = moving?.picture;
  const pictures = useMemo(
    () => (picture ? new Map([[picture.id, { x: picture.x, y: picture.y }]]) : sizing),
    [picture, sizing],
  );
  // Seen from far nothing is written, and nothing is known before the first look.
  const texts = !isLarge || (seen !== null && !far);
  const scene = useMemo(
    () => keeper.scene(topology, { at, carried, pictures, middles, texts, light }),
    [keeper, topology, at, carried, pictures, middles, texts, light],
  );
  const size = useRef({ width: 0, height: 0 });
  const latest = useRef(scene);
  const view = useRef<DrawingView | null>(null);
  useEffect(() => {
    latest.current = scene;
  }, [scene]);
  const chosen = useMemo(
    () => ({
      devices: new Set(selection.devices),
      links: new Set(selection.links),
      sites: new Set(selection.sites),
      notes: new Set(selection.notes),
      pictures: new Set(selection.pictures),
    }),
    [selection],
  );
  const deviceMarks = marks?.devices ?? NO_MARKS;
  const siteMarks = marks?.sites ?? NO_MARKS;
  const shows = useMemo(() => {
    if (!isLarge) return undefined;
    const always = new Set([...(chosen.devices.size <= FEW_CHOSEN ? chosen.devices : []), ...(moving?.held ?? [])]);
    if (hovered !== null) always.add(hovered);
    if (!seen) return () => false;
    const within = inArea(seen.area, always);
    return seen.far ? (box: Box, id: string) => (id.includes(' ') ? within(box, id) : always.has(id)) : within;
  }, [isLarge, chosen.devices, moving?.held, hovered, seen]);
  const nodes = useMemo(
    () =>
      factory.nodes(
        topology,
        scene,
        {
          editable,
          selected: chosen.devices,
          selectedSites: chosen.sites,
          selectedNotes: chosen.notes,
          selectedPictures: chosen.pictures,
          ...(problems && { problems }),
          marks: deviceMarks,
          siteMarks,
          seconds,
          dimOthers,
          subnetsShown: lenses.subnets,
          far,
          renaming: props.renaming?.device ?? null,
        },
        shows,
      ),
    [
      factory,
      topology,
      scene,
      editable,
      chosen,
      deviceMarks,
      siteMarks,
      seconds,
      dimOthers,
      lenses.subnets,
      far,
      problems,
      shows,
      props.renaming?.device,
    ],
  );
  const note = moving?.note;
  const placed = note
    ? nodes.map((one) => (one.id === NOTE_PREFIX + note.id ? { ...one, position: { x: note.x, y: note.y } } : one))
    : nodes;

  const onNodesChange = (changes: NodeChange<DrawingNode>[]): void => {
    // The library tells the place of a picture that is sized as well: that is no movement.
    if (sizing) return;
    const moves = changes.flatMap((one) =>
      one.type === 'position' && one.position ? { ...one, to: one.position } : [],
    );
    const [first] = moves;
    if (first && editable) {
      const isOver = first.dragging !== true;
      const next = movedBy(topology, scene, chosen.devices, first.id, first.to, moving);
      const snap = isOver || modifiers.current.free || !seen ? null : snapped(scene, next, seen.area);
      const now = snap ? { ...next, ...snap } : isOver && moving ? moving : next;
      setMoving(isOver ? null : now);
      if (isOver) drop(now);
    }
    const picked = changes.flatMap((one) => (one.type === 'select' ? one : []));
    if (picked.length) onSelect?.(afterPick(selection, picked, modifiers.current.add));
  };
  const drop = (done: Moved): void => {
    const { site, note: carried, picture: shifted, by } = done;
    if (shifted) props.onMovePicture?.(shifted.id, by);
    else if (carried) props.onMoveNote?.(carried.id, by);
    else if (site !== undefined) props.onMoveSite?.(site, { x: Math.round(by.x), y: Math.round(by.y) });
    else
      props.onMove?.(
        Object.fromEntries([...done.devices].map(([id, { x, y }]) => [id, { x: Math.round(x), y: Math.round(y) }])),
      );
  };
  const pickLink = useCallback(
    (link: string, add: boolean) =>
      onSelect?.(
        add ? { ...selection, links: [...new Set([...selection.links, link])] } : { ...NOTHING, links: [link] },
      ),
    [onSelect, selection],
  );
  const underPointer = ({ clientX: x, clientY: y }: { clientX: number; clientY: number }, reach: number) => {
    const place = view.current?.placeAt({ x, y });
    return place ? pickAt(scene, place, reach) : null;
  };
  const clickPane = (event: { clientX: number; clientY: number; shiftKey: boolean }): void => {
    const place = view.current?.placeAt({ x: event.clientX, y: event.clientY });
    if (props.onPlace && place) return props.onPlace(place);
    const found = isLarge && far ? underPointer(event, REACH / (view.current?.viewport().zoom ?? 1)) : null;
    if (!found) onSelect?.(NOTHING);
    else if ('device' in found) onSelect?.({ ...NOTHING, devices: [found.device] });
    else pickLink(found.link, event.shiftKey);
  };
  const marquee = useMarquee((kind, points, add) => {
    const places = points.flatMap((one) => view.current?.placeAt(one) ?? []);
    const [from, to] = [places[0], places.at(-1)];
    props.onMarqueeEnd?.();
    if (!from || !to) return;
    const found =
      kind === 'lasso'
        ? tilesInLasso(scene, places)
        : tilesInBox(scene, {
            x: Math.min(from.x, to.x),
            y: Math.min(from.y, to.y),
            width: Math.abs(from.x - to.x),
            height: Math.abs(from.y - to.y),
          });
    onSelect?.({ ...NOTHING, devices: add ? [...new Set([...selection.devices, ...found])] : found });
  });
  const begin = (event: PointerEvent): void => {
    modifiers.current = { add: event.ctrlKey || event.metaKey || event.shiftKey, free: event.altKey };
    if (props.marquee) marquee.start(event, props.marquee);
    else if (onSelect && event.shiftKey && event.button === 0 && isPane(event.target)) marquee.start(event, 'box');
  };
  const hover = (event: PointerEvent): void => {
    modifiers.current.free = event.altKey;
    if (!isLarge || !far || event.buttons) return;
    const found = underPointer(event, 0);
    setHovered(found && 'device' in found ? found.device : null);
  };

  const waiting = useRef<{ zoom: number; timer: number | undefined }>({ zoom: 0, timer: undefined });
  /** Draws what came into sight: at once while the drawing is moved, now and then while it is zoomed. */
  const follow = useCallback((viewport: Viewport): void => {
    const { current: wait } = waiting;
    const look = (): void => {
      wait.timer = undefined;
      wait.zoom = viewport.zoom;
      setSeen((was) => seenFrom(was, viewport, size.current.width, size.current.height));
    };
    window.clearTimeout(wait.timer);
    if (wait.zoom === 0 || viewport.zoom === wait.zoom) look();
    else wait.timer = window.setTimeout(look, ZOOM_PAUSE_MS);
  }, []);
  useEffect(() => () => window.clearTimeout(waiting.current.timer), []);
  /** Shows everything as soon as both the drawing and its size are known, and again where one only looks. */
  const fit = useCallback((): void => {
    if (!size.current.width || !view.current) return;
    view.current.showAll({ duration: 0 });
    follow(view.current.viewport());
  }, [follow]);
  const sized = useCallback(
    (width: number, height: number): void => {
      const isFirst = !size.current.width;
      size.current = { width, height };
      if (isFirst || !editable) fit();
      else if (view.current) follow(view.current.viewport());
    },
    [editable, fit, follow],
  );
  const ready = (flow: ReactFlowInstance<DrawingNode>): void => {
    const made = viewOf(
      flow,
      () => root.current?.getBoundingClientRect(),
      () => latest.current,
    );
    view.current = made;
    fit();
    onReady?.(made);
  };
  const showAll = useCallback(() => view.current?.showAll(), []);
  const { onSizePicture } = props;
  const sizes = useMemo<PictureSizing>(
    () => ({
      onSizing: (id, box) => setSizing(new Map([[id, box]])),
      onSized: (id, box) => {
        setSizing(undefined);
        onSizePicture?.(id, box);
      },
    }),
    [onSizePicture],
  );
  const pad = useRef(-Infinity);
  /** Two fingers on a trackpad move the drawing, a wheel and a pinch zoom it. */
  const slide = useCallback((event: WheelEvent): void => {
    if (event.ctrlKey || !view.current) return;
    const isPad = event.deltaX !== 0 || event.timeStamp - pad.current < PAD_MS;
    if (!isPad) return;
    pad.current = event.timeStamp;
    event.preventDefault();
    event.stopPropagation();
    view.current.panBy({ x: -event.deltaX, y: -event.deltaY });
  }, []);
  useEffect(() => {
    const element = root.current;
    // The listeners of the library are further in: this one must see the event first, and may stop it.
    element?.addEventListener('wheel', slide, { capture: true, passive: false });
    return () => element?.removeEventListener('wheel', slide, { capture: true });
  }, [slide]);
  const isMarquee = Boolean(props.marquee);
  return (
    <div
      ref={root}
      className={[
        'drawing',
        lenses.names === false && 'nameless',
        scene.pictures.some((one) => one.beneath) && 'over-picture',
        linking && 'linking',
        isMarquee && 'choosing',
        props.onPlace && 'placing',
      ]
        .filter(Boolean)
        .join(' ')}
      onPointerDownCapture={begin}
      // The library would move the whole drawing meanwhile.
      onMouseDownCapture={(event) => {
        if (isMarquee || (event.shiftKey && isPane(event.target))) event.stopPropagation();
      }}
      onPointerMove={hover}
    >
      <PictureSizes value={sizes}>
        <TileNames value={props.renaming}>
          <ReactFlow<DrawingNode>
            aria-label={label}
            nodes={placed}
            edges={[]}
            nodeTypes={NODE_TYPES}
            onNodesChange={onNodesChange}
            connectionMode={ConnectionMode.Loose}
            onConnectStart={() => setLinking(true)}
            onConnectEnd={() => setLinking(false)}
            onConnect={({ source, target }: Connection) => source !== target && props.onLink?.(source, target)}
            onPaneClick={clickPane}
            onNodeDoubleClick={(_event, node) => node.type === 'tile' && props.onOpen?.(node.id)}
            onInit={ready}
            onMoveStart={() => root.current?.classList.add('moving')}
            onMoveEnd={() => root.current?.classList.remove('moving')}
            onMove={(_event, viewport) => follow(viewport)}
            nodesConnectable={editable}
            edgesFocusable={false}
            elevateNodesOnSelect={false}
            selectNodesOnDrag={false}
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
      <MarqueeShape drawn={marquee.drawn} />
    </div>
  );
}

const NOWHERE: Box = { x: 0, y: 0, width: 0, height: 0 };
const isPane = (target: EventTarget): boolean =>
  target instanceof Element && target.classList.contains('react-flow__pane');

/** What is chosen after the library says what was picked; it knows only of what is drawn. */
function afterPick(before: Selection, picked: readonly { id: string; selected: boolean }[], add: boolean): Selection {
  const added = picked.filter((one) => one.selected).map((one) => one.id);
  const keep = add || !added.length;
  const gone = new Set(picked.filter((one) => !one.selected).map((one) => one.id));
  const of = (ids: readonly string[], prefix: string, isMine: (id: string) => boolean): string[] => [
    ...new Set([
      ...(keep ? ids.filter((id) => !gone.has(prefix + id)) : []),
      ...added.filter(isMine).map((id) => id.slice(prefix.length)),
    ]),
  ];
  const isSite = (id: string): boolean => id.startsWith(SITE_PREFIX);
  const isNote = (id: string): boolean => id.startsWith(NOTE_PREFIX);
  const isPicture = (id: string): boolean => id.startsWith(PICTURE_PREFIX);
  return {
    devices: of(before.devices, '', (id) => !isSite(id) && !isNote(id) && !isPicture(id)),
    sites: of(before.sites, SITE_PREFIX, isSite),
    notes: of(before.notes ?? [], NOTE_PREFIX, isNote),
    pictures: of(before.pictures ?? [], PICTURE_PREFIX, isPicture),
    links: [],
  };
}

/** Tells how large the drawing is on the screen. */
function SizeWatch({ onSize }: { onSize: (width: number, height: number) => void }) {
  const width = useStore((state) => state.width);
  const height = useStore((state) => state.height);
  useEffect(() => onSize(width, height), [onSize, width, height]);
  return null;
}

const GuideLines = ({ guides }: { guides: readonly Guide[] }) => (
  <svg className="links" aria-hidden>
    {guides.map(({ from, to }, at) => (
      <path key={at} className="guide" d={`M${from.x} ${from.y}L${to.x} ${to.y}`} />
    ))}
  </svg>
);
