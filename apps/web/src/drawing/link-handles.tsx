import {
  type Scene,
  type Spot,
  distanceTo,
  fullLabelBox,
  holds,
  lengthOf,
  socketKey,
  stationAt,
} from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import {
  type KeyboardEvent as ReactKeyboardEvent,
  type PointerEvent as ReactPointerEvent,
  type SVGProps,
  useState,
} from 'react';
import { flushSync } from 'react-dom';
import { followPointer } from '../ui/follow-pointer';

/** What the grips of a chosen link ask for. */
export interface LinkGrips {
  /** Plugs an end into another device, or into another port of the same. */
  onReplug: (link: string, end: 'a' | 'b', device: string) => void;
  /** Other bends of a link; none makes it straight. */
  onBends: (link: string, bends: readonly Spot[]) => void;
  /** Another place for a text: counted from its chip, null for the one it finds itself. */
  onLabel: (link: string, end: 'a' | 'b', offset: Spot | null) => void;
}

type Held =
  | { what: 'end'; end: 'a' | 'b'; at: Spot }
  | { what: 'bend'; index: number; isNew: boolean; at: Spot }
  | { what: 'label'; end: 'a' | 'b'; at: Spot; from: Spot };

/** A bend so near to the way between its neighbours is none. */
const STRAIGHT = 5;
/** Sections shorter than this have no grip to bend them. */
const LEAST_SECTION = 60;

/** Grips of the link that is chosen: at its ends to plug it elsewhere, along it to bend it, and on its texts to move them. */
export function LinkHandles({
  topology,
  scene,
  link: id,
  grips,
  placeAt,
}: {
  topology: Topology;
  scene: Scene;
  link: string;
  grips: LinkGrips;
  placeAt: (client: Spot) => Spot | null;
}) {
  const [held, setHeld] = useState<Held | null>(null);
  const line = scene.lines.get(id);
  const link = topology.links[id];
  if (!line || !link) return null;
  const bends = line.points.slice(1, -1);
  const bendsWith = (held: Held & { what: 'bend' }): Spot[] =>
    held.isNew
      ? [...bends.slice(0, held.index), held.at, ...bends.slice(held.index)]
      : bends.map((bend, at) => (at === held.index ? held.at : bend));
  const straighten = (index: number): void =>
    grips.onBends(
      id,
      bends.filter((_one, at) => at !== index),
    );
  /** A bend by arrow keys; it keeps the focus, also where it is new. */
  const bendBy = (bend: Held & { what: 'bend' }, by: Spot): void => {
    flushSync(() =>
      grips.onBends(id, bendsWith({ ...bend, at: { x: bend.at.x + by.x, y: bend.at.y + by.y } }).map(rounded)),
    );
    document.querySelectorAll<SVGElement>('[data-grip=bent]')[bend.index]?.focus();
  };
  const drop = (done: Held): void => {
    if (done.what === 'end') {
      const target = [...scene.tiles.values()].find((tile) => holds(tile, done.at));
      if (target && target.id !== link[done.end === 'a' ? 'b' : 'a'].device) grips.onReplug(id, done.end, target.id);
    } else if (done.what === 'bend') {
      const next = bendsWith(done);
      const all = [line.points[0]!, ...next, line.points.at(-1)!];
      const needed = distanceTo(done.at, all[done.index]!, all[done.index + 2]!) > STRAIGHT;
      grips.onBends(id, needed ? next.map(rounded) : next.filter((_one, at) => at !== done.index).map(rounded));
    } else {
      const chip = line[done.end];
      const far = Math.hypot(done.at.x - done.from.x, done.at.y - done.from.y) > 2;
      if (far) grips.onLabel(id, done.end, rounded({ x: done.at.x - chip.x, y: done.at.y - chip.y }));
    }
  };
  /** Follows the pointer from where something was taken hold of; `grab` is the way from the pointer to its place. */
  const hold = (start: Held) => (event: ReactPointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const first = placeAt({ x: event.clientX, y: event.clientY });
    if (!first) return;
    const grab = start.what === 'label' ? { x: start.at.x - first.x, y: start.at.y - first.y } : { x: 0, y: 0 };
    let now: Held | null = null;
    followPointer(
      ({ clientX: x, clientY: y }) => {
        const at = placeAt({ x, y });
        if (!at) return;
        now = { ...start, at: { x: at.x + grab.x, y: at.y + grab.y } };
        setHeld(now);
      },
      (_event, dropped) => {
        setHeld(null);
        if (now && dropped) drop(now);
      },
    );
  };
  const points =
    held?.what === 'bend'
      ? [line.points[0]!, ...bendsWith(held), line.points.at(-1)!]
      : held?.what === 'end'
        ? [line[held.end === 'a' ? 'b' : 'a'], held.at]
        : line.points;
  const sections = line.points.slice(1).map((to, at) => [line.points[at]!, to] as const);
  return (
    <svg className="links handles" role="group" aria-label="Bends and texts of the link">
      {held && held.what !== 'label' && (
        <path className="handle-line" d={`M${points.map(({ x, y }) => `${x} ${y}`).join('L')}`} />
      )}
      {line.medium !== 'wireless' &&
        sections.map((section, at) => {
          if (lengthOf(section) < LEAST_SECTION) return null;
          const { x, y } = stationAt(section, lengthOf(section) / 2);
          return (
            <Grip
              key={`new ${at}`}
              kind="new"
              grip="bend"
              at={{ x, y }}
              radius={4}
              {...byKeys('Bend it here', (by) => bendBy({ what: 'bend', index: at, isNew: true, at: { x, y } }, by))}
              onPointerDown={hold({ what: 'bend', index: at, isNew: true, at: { x, y } })}
            />
          );
        })}
      {bends.map((bend, index) => (
        <Grip
          key={`bend ${index}`}
          kind="bent"
          grip="bent"
          at={bend}
          radius={5}
          {...byKeys(
            `Bend ${index + 1} of ${bends.length}`,
            (by) => bendBy({ what: 'bend', index, isNew: false, at: bend }, by),
            () => straighten(index),
          )}
          onPointerDown={hold({ what: 'bend', index, isNew: false, at: bend })}
          onDoubleClick={() => straighten(index)}
        />
      ))}
      {(['a', 'b'] as const).map((end) => {
        const label = scene.labels.get(socketKey(id, end));
        const box = label && fullLabelBox(line[end], label);
        const at = held?.what === 'label' && held.end === end ? held.at : null;
        return (
          <g key={end}>
            <Grip
              kind="end"
              grip={`end-${end}`}
              aria-hidden
              at={line[end]}
              radius={8}
              onPointerDown={hold({ what: 'end', end, at: line[end] })}
            />
            {box && (
              <rect
                className="handle-text nopan"
                data-grip={`text-${end}`}
                {...box}
                {...byKeys(
                  `Text “${line[end].full}”`,
                  (by) =>
                    grips.onLabel(
                      id,
                      end,
                      rounded({ x: label.x + by.x - line[end].x, y: label.y + by.y - line[end].y }),
                    ),
                  () => grips.onLabel(id, end, null),
                )}
                onPointerDown={hold({ what: 'label', end, at: label, from: label })}
                onDoubleClick={() => grips.onLabel(id, end, null)}
              />
            )}
            {at && (
              <text className="full" x={at.x} y={at.y}>
                {line[end].text}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** What one takes hold of has room for a finger round it (WCAG 2.5.8). */
const AROUND = 12;

/** A round grip. */
const Grip = ({
  kind,
  grip,
  at: { x, y },
  radius,
  ...others
}: { kind: string; grip: string; at: Spot; radius: number } & SVGProps<SVGGElement>) => (
  <g className="grip nopan" data-grip={grip} {...others}>
    <circle className="around" cx={x} cy={y} r={AROUND} />
    <circle className={`handle ${kind}`} cx={x} cy={y} r={radius} />
  </g>
);

const STEP = 8;
const STEPS: Readonly<Record<string, Spot>> = {
  ArrowLeft: { x: -STEP, y: 0 },
  ArrowRight: { x: STEP, y: 0 },
  ArrowUp: { x: 0, y: -STEP },
  ArrowDown: { x: 0, y: STEP },
};

/** A grip that is moved by arrow keys, too, and taken back by Delete. */
const byKeys = (name: string, onMove: (by: Spot) => void, onRemove?: () => void) => ({
  role: 'button',
  tabIndex: 0,
  'aria-label': `${name}: arrows move it${onRemove ? ', Delete takes it back' : ''}`,
  onKeyDown: (event: ReactKeyboardEvent) => {
    const by = STEPS[event.key];
    const isRemoved = onRemove !== undefined && (event.key === 'Delete' || event.key === 'Backspace');
    if (!by && !isRemoved) return;
    event.preventDefault();
    event.stopPropagation();
    if (by) onMove(by);
    else onRemove?.();
  },
});

const rounded = ({ x, y }: Spot): Spot => ({ x: Math.round(x), y: Math.round(y) });
