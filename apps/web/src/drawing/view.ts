import { type Box, type Scene, type Spot, boxAround, sceneBox, wholeBox } from '@sobrin/core/drawing';
import { type Viewport, getViewportForBounds } from '@xyflow/react';
import { prefersStill } from '../ui/preferences';

/** How everything is shown at once: with a little margin, and never larger than life. */
const FIT = { padding: 0.06, maxZoom: 1.1 } as const;
export const ZOOM = { least: 0.05, most: 2.5 } as const;
/** Zoomed out further than this, a thing is in sight but cannot be read. */
const READABLE = 0.55;
/** From here on names and addresses are read without effort. */
const LEGIBLE = 0.7;
/** What is shown of the surroundings of a device, in the drawing's pixels. */
const AROUND = 32;
const FLIGHT_MS = 200;

/**
 * What a page can ask of a drawing that is shown. Places are in the drawing's own pixels unless they are said to be the
 * screen's. What was shown last stays in sight when the drawing gets less room, until a person moves it.
 */
export interface DrawingView {
  /** Shows everything that is drawn. */
  showAll: (how?: { duration: number }) => void;
  /** Shows everything where some of it lies outside of what is seen. */
  showAllIfOutside: () => void;
  /** Brings devices, sites and notes into sight and to a size that can be read, where they are not so already. */
  reveal: (ids: { devices?: readonly string[]; sites?: readonly string[]; notes?: readonly string[] }) => void;
  /**
   * Shows devices as large as they fit, but never smaller than can be read: of those that stand far apart the first is
   * shown. Everything without any.
   */
  readable: (devices: readonly string[]) => void;
  viewport: () => Viewport;
  /**
   * The drawing has more or less room: what was shown last is shown again, and what is chosen stays in sight, where it
   * was before.
   */
  resized: (before?: { width: number; height: number }, chosen?: Chosen) => void;
  /** A person moves the drawing, or takes something in it: from now on it stays where it is. */
  release: () => void;
  /** Moves what is seen by pixels of the screen. */
  panBy: (by: Spot) => void;
  /** Moves and zooms what is seen as another drawing of the same size was. */
  moveLike: (after: Viewport, before: Viewport) => void;
  /** The middle of what is seen. */
  middle: () => Spot;
  /** What is seen, all of it. */
  seen: () => Box | undefined;
  /** The place of the drawing at a place of the screen; null where that is outside of it. */
  placeAt: (client: Spot) => Spot | null;
}

/** What is chosen, by id. */
type Chosen = Partial<Record<'devices' | 'links' | 'notes', readonly string[]>>;
/** How far from the edge what is chosen is moved. */
const INSIDE = 24;

/** A stretch moved so that it lies within a longer one; in the middle of a shorter one. */
const inside = (from: number, length: number, least: number, room: number): number =>
  length >= room ? least + (room - length) / 2 : Math.min(Math.max(from, least), least + room - length);

export function viewOf(
  flow: {
    getViewport: () => Viewport;
    setViewport: (viewport: Viewport, options?: { duration?: number }) => Promise<boolean>;
  },
  pane: () => DOMRect | undefined,
  scene: () => Scene,
): DrawingView {
  /** Where a flight goes: what is in sight is judged by its end. */
  let aim: Viewport | null = null;
  let held: () => void = () => undefined;
  const now = (): Viewport => aim ?? flow.getViewport();
  const show = (box: Box, maxZoom: number, padding: number, duration = FLIGHT_MS): void => {
    const size = pane();
    if (!size?.width || !size.height) return;
    const to = getViewportForBounds(box, size.width, size.height, ZOOM.least, maxZoom, padding);
    aim = to;
    void flow.setViewport(to, { duration: prefersStill() ? 0 : duration }).then(() => {
      if (aim === to) aim = null;
    });
  };
  const hold = (look: () => void): void => {
    held = look;
    look();
  };
  const seen = (margin: number, size: { width: number; height: number } | undefined = pane()): Box | null => {
    if (!size?.width) return null;
    const { x, y, zoom } = now();
    return {
      x: (margin - x) / zoom,
      y: (margin - y) / zoom,
      width: (size.width - 2 * margin) / zoom,
      height: (size.height - 2 * margin) / zoom,
    };
  };
  const isSeen = (box: Box, margin: number, size?: { width: number; height: number }): boolean => {
    const within = seen(margin, size);
    return (
      within !== null &&
      box.x >= within.x &&
      box.y >= within.y &&
      box.x + box.width <= within.x + within.width &&
      box.y + box.height <= within.y + within.height
    );
  };
  return {
    viewport: now,
    resized: (before, { devices = [], links = [], notes = [] } = {}) => {
      held();
      const { tiles, lines, notes: all } = scene();
      const box = boxAround([
        ...devices.flatMap((id) => tiles.get(id) ?? []),
        ...links.flatMap((id) => lines.get(id)?.box ?? []),
        ...all.filter(({ id }) => notes.includes(id)),
      ]);
      const within = seen(INSIDE);
      if (!box || !within || !before || !isSeen(box, 0, before) || isSeen(box, 0)) return;
      const by = (from: number, length: number, first: number, room: number): number =>
        length > room || from < first ? first - from : Math.min(0, first + room - from - length);
      const { x, y, zoom } = now();
      const to = {
        x: x + by(box.x, box.width, within.x, within.width) * zoom,
        y: y + by(box.y, box.height, within.y, within.height) * zoom,
        zoom,
      };
      void flow.setViewport(to, { duration: prefersStill() ? 0 : FLIGHT_MS });
    },
    release: () => {
      aim = null;
      held = () => undefined;
    },
    panBy: (by) => {
      const { x, y, zoom } = flow.getViewport();
      void flow.setViewport({ x: x + by.x, y: y + by.y, zoom });
    },
    moveLike: (after, before) => {
      const size = pane();
      if (!size) return;
      held = () => undefined;
      aim = null;
      const middleOf = ({ x, y, zoom }: Viewport): Spot => ({
        x: (size.width / 2 - x) / zoom,
        y: (size.height / 2 - y) / zoom,
      });
      const [now, to, from] = [flow.getViewport(), middleOf(after), middleOf(before)];
      const middle = middleOf(now);
      const zoom = Math.min(ZOOM.most, Math.max(ZOOM.least, (now.zoom * after.zoom) / before.zoom));
      void flow.setViewport({
        x: size.width / 2 - (middle.x + to.x - from.x) * zoom,
        y: size.height / 2 - (middle.y + to.y - from.y) * zoom,
        zoom,
      });
    },
    showAll: (how) =>
      hold(() => {
        const box = wholeBox(scene());
        if (box) show(box, FIT.maxZoom, FIT.padding, how?.duration);
      }),
    showAllIfOutside: () =>
      hold(() => {
        const box = sceneBox(scene());
        if (box && !isSeen(box, 16)) show(wholeBox(scene())!, FIT.maxZoom, FIT.padding);
      }),
    reveal: ({ devices = [], sites = [], notes = [] }) =>
      hold(() => {
        const { tiles, sites: areas, notes: all } = scene();
        const box = boxAround([
          ...devices.flatMap((id) => tiles.get(id) ?? []),
          ...areas.filter((area) => sites.includes(area.id)),
          ...all.filter((note) => notes.includes(note.id)),
        ]);
        const { zoom } = now();
        if (box && !(zoom >= READABLE && isSeen(box, 0))) show(box, Math.max(1, zoom), 0.1);
      }),
    readable: (devices) =>
      hold(() => {
        const { tiles } = scene();
        const found = devices.flatMap((id) => tiles.get(id) ?? []);
        const [size, box, first] = [pane(), boxAround(found), found[0]];
        const whole = wholeBox(scene());
        if (!box || !first || !size) {
          if (whole) show(whole, FIT.maxZoom, FIT.padding);
          return;
        }
        const fits = Math.min(size.width / (box.width + 2 * AROUND), size.height / (box.height + 2 * AROUND));
        const shown = boxAround([fits < LEGIBLE ? first : box], AROUND)!;
        const room = { width: size.width / LEGIBLE, height: size.height / LEGIBLE };
        // What is small is seen with what stands round it, at an edge of the drawing with as much of it as there is.
        const [width, height] = [Math.max(room.width, shown.width), Math.max(room.height, shown.height)];
        const [left, top] = [shown.x - (width - shown.width) / 2, shown.y - (height - shown.height) / 2];
        const x = whole ? inside(left, width, whole.x - AROUND, whole.width + 2 * AROUND) : left;
        const y = whole ? inside(top, height, whole.y - AROUND, whole.height + 2 * AROUND) : top;
        show({ x, y, width, height }, 1, 0);
      }),
    seen: () => seen(0) ?? undefined,
    middle: () => {
      const within = seen(0);
      return within ? { x: within.x + within.width / 2, y: within.y + within.height / 2 } : { x: 140, y: 140 };
    },
    placeAt: ({ x, y }) => {
      const size = pane();
      if (!size || x < size.left || y < size.top || x > size.right || y > size.bottom) return null;
      const at = flow.getViewport();
      return { x: (x - size.left - at.x) / at.zoom, y: (y - size.top - at.y) / at.zoom };
    },
  };
}

/** What is seen of a drawing, in steps: it changes only now and then while the drawing is moved. */
export interface Seen {
  /** From so far that small text cannot be read. */
  readonly far: boolean;
  /** Pixels of the screen for each of the drawing's, in steps: never fewer than there are. */
  readonly scale: number;
  /** Holds all that is in sight, and a little more. */
  readonly area: Box;
}

/** From this zoom on small text is left out, and back in a little later, so that it does not flicker. */
const FAR = 0.42;
const NEAR = 0.48;
/** Steps are powers of two, about so many pixels of the screen. */
const STEP = 300;

/** What is seen after a movement: the same object as before while nothing of it changes. */
export function seenFrom(before: Seen | null, { x, y, zoom }: Viewport, width: number, height: number): Seen | null {
  if (!width || !height) return null;
  const cell = 2 ** Math.round(Math.log2(STEP / zoom));
  const left = Math.floor(-x / zoom / cell) * cell;
  const top = Math.floor(-y / zoom / cell) * cell;
  const area = {
    x: left,
    y: top,
    width: Math.ceil((width - x) / zoom / cell) * cell - left,
    height: Math.ceil((height - y) / zoom / cell) * cell - top,
  };
  // Two steps for each doubling.
  const scale = 2 ** (Math.ceil(Math.log2(zoom) * 2) / 2);
  const far = before?.far ? zoom < NEAR : zoom < FAR;
  const same =
    before !== null &&
    before.far === far &&
    (!far || before.scale === scale) &&
    (['x', 'y', 'width', 'height'] as const).every((key) => before.area[key] === area[key]);
  return same ? before : { far, scale, area };
}
