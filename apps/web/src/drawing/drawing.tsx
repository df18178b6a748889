import '@xyflow/react/dist/base.css';
import './drawing.css';
import { type Topology, sceneOf, sitesWithin } from '@sobrin/core';
import {
  type Connection,
  ConnectionMode,
  type NodeChange,
  ReactFlow,
  type ReactFlowInstance,
  ViewportPortal,
} from '@xyflow/react';
import { useCallback, useMemo, useState } from 'react';
import { type LinkFact } from '../workers/facts';
import { LegendView } from './legend-node';
import { LinkLayer, type Lenses } from './link-layer';
import { type Mark, type Marks } from './marks';
import { type DrawingNode, NOTE_PREFIX, NodeFactory, SITE_PREFIX } from './nodes';
import { type Selection, NOTHING } from './selection';
import { NoteView } from './note-node';
import { SiteView } from './site-node';
import { TileView } from './tile-node';
import { FIT, KeepFitted, ZoomButtons } from './zoom-buttons';

const NODE_TYPES = { tile: TileView, site: SiteView, legend: LegendView, note: NoteView };
const NO_MARKS: ReadonlyMap<string, Mark> = new Map();
const NO_SECONDS: ReadonlyMap<string, string> = new Map();
type At = Record<string, { x: number; y: number }>;
/** From this zoom on small text is left out, and back in a little later, so that it does not flicker. */
const FAR = 0.42;
const NEAR = 0.48;

export type Flow = ReactFlowInstance<DrawingNode>;
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
  onMove?: (to: At) => void;
  onMoveSite?: (id: string, by: { x: number; y: number }) => void;
  onMoveNote?: (id: string, by: { x: number; y: number }) => void;
  onLink?: (from: string, to: string) => void;
  onReady?: (flow: Flow) => void;
  /** How many problems each device has, for those who hear the drawing. */
  problems?: ReadonlyMap<string, number>;
  /** Other places for some devices, while they move to new ones. */
  places?: ReadonlyMap<string, { x: number; y: number }> | undefined;
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
  const [dragged, setDragged] = useState<ReadonlyMap<string, { x: number; y: number }> | undefined>(undefined);
  const [noteDrag, setNoteDrag] = useState<{ id: string; x: number; y: number } | null>(null);
  const [far, setFar] = useState(false);
  const [linking, setLinking] = useState(false);
  const [factory] = useState(() => new NodeFactory());
  const moved = dragged ?? props.places;
  const scene = useMemo(() => sceneOf(topology, moved), [topology, moved]);
  const chosen = useMemo(
    () => ({
      devices: new Set(selection.devices),
      links: new Set(selection.links),
      sites: new Set(selection.sites),
      notes: new Set(selection.notes),
    }),
    [selection],
  );
  const deviceMarks = marks?.devices ?? NO_MARKS;
  const siteMarks = marks?.sites ?? NO_MARKS;
  const nodes = useMemo(
    () =>
      factory.nodes(topology, scene, {
        editable,
        selected: chosen.devices,
        selectedSites: chosen.sites,
        selectedNotes: chosen.notes,
        ...(problems && { problems }),
        marks: deviceMarks,
        siteMarks,
        seconds,
        dimOthers,
        subnetsShown: lenses.subnets,
        far,
      }),
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
    ],
  );
  const placed = noteDrag
    ? nodes.map((one) =>
        one.id === NOTE_PREFIX + noteDrag.id ? { ...one, position: { x: noteDrag.x, y: noteDrag.y } } : one,
      )
    : nodes;
  const shown = useMemo(() => (far ? { ends: false, subnets: false, cables: false } : lenses), [far, lenses]);

  const onNodesChange = (changes: NodeChange<DrawingNode>[]): void => {
    const moved = new Map<string, { x: number; y: number }>();
    let ended = false;
    const next = { devices: new Set(chosen.devices), sites: new Set(chosen.sites), notes: new Set(chosen.notes) };
    let picked = false;
    for (const change of changes) {
      if (change.type === 'position' && change.position && editable && change.id.startsWith(NOTE_PREFIX)) {
        const id = change.id.slice(NOTE_PREFIX.length);
        const before = scene.notes.find((one) => one.id === id);
        const { x, y } = change.position;
        if (change.dragging === false && before) props.onMoveNote?.(id, { x: x - before.x, y: y - before.y });
        setNoteDrag(change.dragging ? { id, x, y } : null);
      } else if (change.type === 'position' && change.position && editable) {
        for (const [id, at] of movedBy(topology, scene, change.id, change.position)) moved.set(id, at);
        ended ||= change.dragging === false;
        if (change.dragging === false && change.id.startsWith(SITE_PREFIX)) dropSite(change.id, change.position);
      }
      if (change.type === 'select') {
        picked = true;
        const [set, id] = change.id.startsWith(SITE_PREFIX)
          ? [next.sites, change.id.slice(SITE_PREFIX.length)]
          : change.id.startsWith(NOTE_PREFIX)
            ? [next.notes, change.id.slice(NOTE_PREFIX.length)]
            : [next.devices, change.id];
        if (change.selected) set.add(id);
        else set.delete(id);
      }
    }
    if (moved.size && !ended) setDragged(moved);
    if (ended) {
      setDragged(undefined);
      if (moved.size && !changes.some((one) => 'id' in one && one.id.startsWith(SITE_PREFIX)))
        props.onMove?.(rounded(moved));
    }
    if (picked) onSelect?.({ devices: [...next.devices], sites: [...next.sites], notes: [...next.notes], links: [] });
  };
  const dropSite = (nodeId: string, position: { x: number; y: number }): void => {
    const id = nodeId.slice(SITE_PREFIX.length);
    const area = sceneOf(topology).sites.find((one) => one.id === id);
    if (area) props.onMoveSite?.(id, { x: Math.round(position.x - area.x), y: Math.round(position.y - area.y) });
  };
  const pickLink = useCallback(
    (link: string, add: boolean) =>
      onSelect?.(
        add
          ? { ...selection, links: [...new Set([...selection.links, link])] }
          : { devices: [], sites: [], links: [link] },
      ),
    [onSelect, selection],
  );

  return (
    <div className={`drawing${linking ? ' linking' : ''}`}>
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
        onPaneClick={() => onSelect?.(NOTHING)}
        onInit={onReady}
        onMove={(_event, { zoom }) => setFar((was) => (was ? zoom < NEAR : zoom < FAR))}
        nodesConnectable={editable}
        edgesFocusable={false}
        elevateNodesOnSelect={false}
        selectNodesOnDrag={false}
        deleteKeyCode={null}
        minZoom={0.12}
        maxZoom={2.5}
        fitView
        fitViewOptions={FIT}
        proOptions={{ hideAttribution: true }}
      >
        <ViewportPortal>
          <LinkLayer
            topology={topology}
            scene={scene}
            facts={facts}
            lenses={shown}
            selected={chosen.links}
            marks={marks?.links ?? NO_MARKS}
            portMarks={marks?.ports ?? NO_MARKS}
            dimOthers={dimOthers}
            onPick={onSelect && pickLink}
          />
        </ViewportPortal>
        <ZoomButtons />
        {!editable && <KeepFitted />}
      </ReactFlow>
    </div>
  );
}

const rounded = (moved: ReadonlyMap<string, { x: number; y: number }>): At =>
  Object.fromEntries([...moved].map(([id, { x, y }]) => [id, { x: Math.round(x), y: Math.round(y) }]));

/** Where devices come to stand: one that is moved itself, or all that belong to a moved site and the sites inside it. */
function movedBy(
  topology: Topology,
  scene: ReturnType<typeof sceneOf>,
  nodeId: string,
  to: { x: number; y: number },
): [string, { x: number; y: number }][] {
  if (!nodeId.startsWith(SITE_PREFIX)) return [[nodeId, to]];
  const id = nodeId.slice(SITE_PREFIX.length);
  const area = scene.sites.find((one) => one.id === id);
  if (!area) return [];
  const inside = sitesWithin(topology, id);
  const [dx, dy] = [to.x - area.x, to.y - area.y];
  return [...scene.tiles.values()]
    .filter((tile) => inside.has(topology.devices[tile.id]?.site ?? ''))
    .map((tile) => [tile.id, { x: tile.x + dx, y: tile.y + dy }]);
}
