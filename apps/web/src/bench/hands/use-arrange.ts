import { type Position } from '@sobrin/core/editing';
import { type Command } from '@sobrin/core/topology';
import { useEffect, useRef, useState } from 'react';
import { prefersStill } from '../../ui/preferences';
import { useBench, useBenchStore } from '../use-bench';

const FLIGHT_MS = 260;
/** More devices than this are put to their places at once: moving them all would stutter. */
const MOST_FLYING = 150;

export interface Arranging {
  /** How far the layout is; null while nothing is laid out. */
  progress: { done: number; of: number } | null;
  /** Where devices are on the way to their new places. */
  flying: ReadonlyMap<string, Position> | undefined;
  start: (ids?: readonly string[]) => void;
  cancel: () => void;
}

/** Arranging: laid out in a worker, can be cancelled, moves there visibly and is one step to undo. */
export function useArrange(onLanded: () => void): Arranging {
  const store = useBenchStore();
  const run = useBench((state) => state.do);
  const [progress, setProgress] = useState<Arranging['progress']>(null);
  const [flying, setFlying] = useState<Arranging['flying']>(undefined);
  const stop = useRef<() => void>(() => {});
  useEffect(() => () => stop.current(), []);
  const fly = (to: Readonly<Record<string, Position>>, land: () => void): void => {
    const from = store.getState().document.devices;
    const ids = Object.keys(to);
    if (ids.length > MOST_FLYING || prefersStill()) return land();
    const began = performance.now();
    const step = (): void => {
      const part = Math.min(1, (performance.now() - began) / FLIGHT_MS);
      const eased = 1 - (1 - part) ** 3;
      if (part === 1 || ids.some((id) => !from[id])) {
        setFlying(undefined);
        return land();
      }
      const between = (a: number, b: number): number => a + (b - a) * eased;
      setFlying(
        new Map(
          ids.map((id) => [id, { x: between(from[id]!.at.x, to[id]!.x), y: between(from[id]!.at.y, to[id]!.y) }]),
        ),
      );
      requestAnimationFrame(step);
    };
    step();
  };
  const start = async (ids?: readonly string[]): Promise<void> => {
    const { arrange, startArranger } = await import('../../workers/arranger');
    stop.current();
    const { tasks, finish } = arrange(store.getState().document, ids);
    if (!tasks.length) return;
    const arranger = startArranger();
    stop.current = () => {
      arranger.cancel();
      setProgress(null);
    };
    setProgress({ done: 0, of: tasks.length });
    const layouts = await arranger.layOut(tasks, (done) => setProgress({ done, of: tasks.length }));
    stop.current();
    stop.current = () => {};
    const commands: Command[] = finish(layouts);
    const move = commands.find((command) => command.kind === 'move');
    fly(move?.kind === 'move' ? move.to : {}, () => run('arrange', ...commands) && onLanded());
  };
  return { progress, flying, start: (ids) => void start(ids), cancel: () => stop.current() };
}
