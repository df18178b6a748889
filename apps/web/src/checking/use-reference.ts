import { splitInstanceId } from '@sobrin/core/engine';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { type Viewport } from '@xyflow/react';
import { type RefObject, useMemo, useRef, useState } from 'react';
import { NOTHING, type Selection } from '../drawing/selection';
import { type DrawingView } from '../drawing/view';
import { useShortcuts } from '../ui/keys/shortcuts';
import { type Side } from './check-footer';

/** Where the reference stands: at the side of the student's drawing, above it, or in its place. */
export type Placement = 'beside' | 'above' | 'instead';

/** How much larger than its devices' places a drawing is. */
const TILE = { width: 160, height: 90 };
function sizeOf({ devices }: Topology): { width: number; height: number } {
  const places = Object.values(devices).map(({ at }) => at);
  const stretch = (values: number[]): number => (values.length ? Math.max(...values) - Math.min(...values) : 0);
  return {
    width: stretch(places.map(({ x }) => x)) + TILE.width,
    height: stretch(places.map(({ y }) => y)) + TILE.height,
  };
}

/** Whether two drawings are larger one beside or one above the other, in the room that both have together. */
export function largerPlacement(
  room: { width: number; height: number },
  drawings: readonly Topology[],
): 'beside' | 'above' {
  const scale = (width: number, height: number): number =>
    Math.min(...drawings.map(sizeOf).map((size) => Math.min(width / size.width, height / size.height)));
  return scale(room.width, room.height / 2) > scale(room.width / 2, room.height) ? 'above' : 'beside';
}

/** The reference and the student's drawing: where the one stands, moved together, and who is pointed at in either. */
export function useReference({
  room,
  side,
  onSide,
  reference,
  topology,
  matching,
}: {
  /** What both have together. */
  room: RefObject<HTMLElement | null>;
  side: Side;
  onSide: (side: Side) => void;
  reference: Topology;
  topology: Topology;
  matching: CheckResult['matching'];
}) {
  const [placement, setPlacement] = useState<Placement>('beside');
  const [pointed, setPointed] = useState<{ at: 'student' | 'reference'; device: string } | null>(null);
  const views = useRef<Record<'student' | 'reference', DrawingView | null>>({ student: null, reference: null });
  const isShown = side === 'reference';
  const open = (): void => {
    const box = room.current?.getBoundingClientRect();
    setPlacement(box?.width ? largerPlacement(box, [reference, topology]) : 'beside');
    onSide('reference');
  };
  useShortcuts([
    {
      id: 'reference',
      text: 'Reference beside or above',
      keys: 'R',
      run: () => (isShown ? onSide('none') : open()),
    },
    {
      id: 'reference-instead',
      text: 'Reference in the same place',
      keys: 'X',
      run: () => {
        if (isShown && placement === 'instead') return onSide('none');
        setPlacement('instead');
        onSide('reference');
      },
    },
    {
      id: 'reference-placement',
      text: 'Reference beside, or above',
      keys: 'L',
      off: !isShown,
      run: () => setPlacement(placement === 'beside' ? 'above' : 'beside'),
    },
  ]);
  const pairs = useMemo(() => {
    const [devices, roles] = [new Map<string, string[]>(), new Map<string, string[]>()];
    for (const { role, device } of matching) {
      if (device === null) continue;
      const [one, other] = [splitInstanceId(role).device, splitInstanceId(device).device];
      roles.set(other, [...(roles.get(other) ?? []), one]);
      devices.set(one, [...(devices.get(one) ?? []), other]);
    }
    return { student: roles, reference: devices };
  }, [matching]);
  const chosenIn = (at: 'student' | 'reference'): Selection => {
    if (!pointed || !isShown) return NOTHING;
    const devices = pointed.at === at ? [pointed.device] : (pairs[pointed.at].get(pointed.device) ?? []);
    return { ...NOTHING, devices };
  };
  /** What a drawing needs to be moved with the other one, and to tell who is pointed at. */
  const propsOf = (at: 'student' | 'reference') => ({
    selection: chosenIn(at),
    onPoint: (device: string | null): void => setPointed(device === null ? null : { at, device }),
    onMoved: (after: Viewport, before: Viewport): void =>
      views.current[at === 'student' ? 'reference' : 'student']?.moveLike(after, before),
  });
  return {
    placement,
    open,
    propsOf,
    setView: (at: 'student' | 'reference', view: DrawingView | null): void => {
      views.current[at] = view;
    },
  };
}
export type ReferencePlacing = ReturnType<typeof useReference>;
