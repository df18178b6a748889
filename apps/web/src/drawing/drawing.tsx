import '@xyflow/react/dist/base.css';
import './drawing.css';
import { type Box, type Guide, type Scene, type Spot, SceneKeeper } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { type Connection, ConnectionMode, type NodeChange, ReactFlow, ViewportPortal, useStore } from '@xyflow/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { type LinkFact } from '../workers/facts';
import { CommentPins } from './comment-pins';
import { FlyingLinks, manyLinksOf } from './flying-links';
import { FarLayer } from './far-layer';
import { LegendView } from './legend-node';
import { type LinkGrips, LinkHandles } from './link-handles';
import { type Lenses } from './lenses';
import { LinkLayer, middleSizes } from './link-layer';
import { type Mark, type Marks } from './marks';
import { type MarqueeKind, MarqueeShape } from './marquee';
import { type Moved, movedBy, snapped } from './moving';
import { type DrawingNode, NOTE_PREFIX, NodeFactory, inArea } from './nodes';
import { NoteView } from './note-node';
import { PictureSizes, type PictureSizing, PictureView } from './picture-node';
import { type Selection, NOTHING, afterPick } from './selection';
import { SiteView } from './site-node';
import { TileNames, type TileRenaming, TileView } from './tile-node';
import { usePicking } from './use-picking';
import { useSight } from './use-sight';
import { type DrawingView, ZOOM } from './view';
import { ZoomButtons } from './zoom-buttons';

const NODE_TYPES = { tile: TileView, site: SiteView, legend: LegendView, note: NoteView, picture: PictureView };
const NO_MARKS: ReadonlyMap<string, Mark> = new Map();
const NO_SECONDS: ReadonlyMap<string, string> = new Map();
const NO_LENSES: Lenses = { ends: false, subnets: false, cables: false };
/** Up to so many devices everything is drawn, wherever it is; of more only what is in sight. */
const FEW = 150;
/** So many chosen tiles are drawn one by one in a large drawing seen from far. */
const FEW_CHOSEN = 60;

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
  const [linking, setLinking] = useState(false);
  const [sizing, setSizing] = useState<ReadonlyMap<string, Box> | undefined>(undefined);
  const [factory] = useState(() => new NodeFactory());
  const [keeper] = useState(() => new SceneKeeper());
  const root = useRef<HTMLDivElement>(null);
  const latest = useRef<Scene | null>(null);
  const { seen, view, follow, sized, ready, showAll } = useSight(root, latest, editable, onReady);
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
  useEffect(() => {
    latest.current = scene;
  }, [scene]);
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
          markWords: marks?.words,
          markHere: marks?.here,
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
      marks?.words,
      marks?.here,
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
    ? nodes.map((node) => (node.id === NOTE_PREFIX + note.id ? { ...node, position: { x: note.x, y: note.y } } : node))
    : nodes;

  const onNodesChange = (changes: NodeChange<DrawingNode>[]): void => {
    // The library tells the place of a picture that is sized as well: that is no movement.
    if (sizing) return;
    const moves = changes.flatMap((change) =>
      change.type === 'position' && change.position ? { ...change, to: change.position } : [],
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
    const picked = changes.flatMap((change) => (change.type === 'select' ? change : []));
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
  return (
    <div
      ref={root}
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
      onPointerDownCapture={picking.begin}
      // The library would move the whole drawing meanwhile.
      onMouseDownCapture={(event) => {
        if (picking.takes(event)) event.stopPropagation();
      }}
      onPointerMove={picking.hover}
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
            onPaneClick={picking.clickPane}
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
      <MarqueeShape drawn={picking.drawn} />
    </div>
  );
}

const NOWHERE: Box = { x: 0, y: 0, width: 0, height: 0 };

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
