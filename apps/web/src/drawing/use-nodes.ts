import { type Box, type Scene } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { useMemo, useState } from 'react';
import { type Mark, type Marks } from './marks';
import { type Moved } from './moving';
import { type DrawingNode, NOTE_PREFIX, NodeFactory, inArea } from './nodes';
import { type Seen } from './view';

const NO_MARKS: ReadonlyMap<string, Mark> = new Map();
/** So many chosen tiles are drawn one by one in a large drawing seen from far. */
const FEW_CHOSEN = 60;

/** What is chosen, for looking up. */
export interface ChosenSets {
  readonly devices: ReadonlySet<string>;
  readonly links: ReadonlySet<string>;
  readonly sites: ReadonlySet<string>;
  readonly notes: ReadonlySet<string>;
  readonly pictures: ReadonlySet<string>;
}

/** The tiles, sites, notes, pictures and the legend of a scene as the library draws them: of a large one those in sight. */
export function useNodes({
  topology,
  scene,
  chosen,
  marks,
  seconds,
  dimOthers,
  editable,
  subnetsShown,
  problems,
  renaming,
  moving,
  hovered,
  seen,
  isLarge,
}: {
  topology: Topology;
  scene: Scene;
  chosen: ChosenSets;
  marks: Marks | undefined;
  seconds: ReadonlyMap<string, string>;
  dimOthers: boolean;
  editable: boolean;
  subnetsShown: boolean;
  problems: ReadonlyMap<string, number> | undefined;
  /** The device whose name is typed on its tile. */
  renaming: string | null;
  moving: Moved | null;
  hovered: string | null;
  seen: Seen | null;
  isLarge: boolean;
}): DrawingNode[] {
  const [factory] = useState(() => new NodeFactory());
  const far = seen?.far ?? false;
  const isMoving = moving !== null;
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
          markReasons: marks?.reasons,
          seconds,
          dimOthers,
          subnetsShown,
          far,
          renaming,
          moving: isMoving,
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
      marks?.reasons,
      seconds,
      dimOthers,
      subnetsShown,
      far,
      problems,
      shows,
      renaming,
      isMoving,
    ],
  );
  // A note that is moved goes along without everything being made anew.
  const note = moving?.note;
  return note
    ? nodes.map((node) => (node.id === NOTE_PREFIX + note.id ? { ...node, position: { x: note.x, y: note.y } } : node))
    : nodes;
}
