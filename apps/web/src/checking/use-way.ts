import { type Packet } from '@sobrin/core/spec';
import { useEffect, useMemo, useState } from 'react';
import { type Marks } from '../drawing/marks';
import { marksOfTrace } from '../drawing/trace-marks';
import { useShortcuts } from '../ui/keys/shortcuts';
import { type Ask } from '../workers/engine-requests';
import { type TraceAnswer } from '../workers/trace-answer';
import { type Item } from './findings';

/** The way of the packet that shows why something is not met, as it was judged, and the step one stands at. */
export interface PacketWay {
  readonly trace: TraceAnswer;
  readonly at: number;
  readonly marks: Marks;
  readonly goTo: (step: number) => void;
}

/**
 * Follows a packet of a finding. Left and right walk its steps, T puts it away and takes it up again.
 * @param item whose packet it is; null where nothing is to be followed
 */
export function useWay(ask: Ask, item: Item | null): { way: PacketWay | null; isAway: boolean; toggle: () => void } {
  const packet = item?.packet;
  const [isAway, setIsAway] = useState(false);
  const [found, setFound] = useState<{ packet: Packet; trace: TraceAnswer; at: number } | null>(null);
  const wanted = isAway ? undefined : packet;
  useEffect(() => {
    if (!wanted) return;
    let isOver = false;
    void ask('trace', wanted).then((trace) => {
      if (!isOver) setFound({ packet: wanted, trace, at: trace.steps.length - 1 });
    });
    return () => {
      isOver = true;
    };
  }, [ask, wanted]);
  const shown = found && found.packet === wanted ? found : null;
  const goTo = (step: number): void => setFound((now) => now && { ...now, at: step });
  const last = (shown?.trace.steps.length ?? 0) - 1;
  const toggle = (): void => setIsAway((now) => !now);
  useShortcuts([
    { id: 'way', text: 'Way of the packet', keys: 'T', off: !packet, run: toggle },
    {
      id: 'way-step',
      text: 'Step of its way',
      keys: ['ArrowLeft', 'ArrowRight'],
      off: !shown,
      butIn: '.react-flow__node',
      run: (chord) => shown && goTo(Math.min(last, Math.max(0, shown.at + (chord === 'ArrowRight' ? 1 : -1)))),
    },
  ]);
  const isOpen = item?.met === null;
  const way = useMemo(() => {
    if (!shown) return null;
    // What arrives and should not, or by another way than it should, is no good news.
    const mark = isOpen ? 'unsure' : shown.trace.answer === 'yes' ? 'lost' : undefined;
    return { trace: shown.trace, at: shown.at, marks: marksOfTrace(shown.trace, shown.at, mark), goTo };
  }, [shown, isOpen]);
  return { way, isAway, toggle };
}

/** What a finding marks, and the way of its packet: whoever is lost stays so, wherever the packet passed. */
export const withWay = (found: Marks, way: Marks): Marks => ({
  ...found,
  ...way,
  devices: new Map([...way.devices, ...[...found.devices].filter(([, mark]) => mark !== 'met')]),
  links: new Map([...way.links, ...found.links]),
});
