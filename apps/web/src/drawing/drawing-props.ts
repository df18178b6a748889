import { type Box, type Spot } from '@sobrin/core/drawing';
import { type Viewport } from '@xyflow/react';
import { type Topology } from '@sobrin/core/topology';
import { type LinkFact } from '../workers/facts';
import { type Lenses } from './lenses';
import { type LinkGrips } from './link-handles';
import { type Marks } from './marks';
import { type PortSpot } from './menu-target';
import { type MarqueeKind } from './marquee';
import { type Selection } from './selection';
import { type TileRenaming } from './tile-node';
import { type DrawingView } from './view';

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
  /** A menu is asked for at a place of the screen, of what is chosen then; at a chip also of its port. */
  onMenu?: (client: Spot, port: PortSpot | null) => void;
  renaming?: TileRenaming | undefined;
  onReady?: (view: DrawingView) => void;
  /** A person moved what is seen, or made it larger or smaller. */
  onMoved?: ((after: Viewport, before: Viewport) => void) | undefined;
  /** A device is pointed at, or has the focus; null for none. */
  onPoint?: ((device: string | null) => void) | undefined;
  /** How many problems each device has, for those who hear the drawing. */
  problems?: ReadonlyMap<string, number>;
  /** Other places for some devices, while they move to new ones. */
  places?: ReadonlyMap<string, Spot> | undefined;
}
