import { type RefObject, useState } from 'react';
import { type Lenses } from '../../drawing/lenses';
import { type DrawingView } from '../../drawing/view';
import { type Ask, type SignInQuestion } from '../../workers/engine-requests';
import { type TraceAnswer, type TraceRequest } from '../../workers/trace-answer';
import { lookAt } from '../look-at';
import { type Modes } from '../modes';
import { useBench } from '../use-bench';
import { useReach } from './use-reach';

const LENSES: Lenses = { ends: true, subnets: true, cables: false };

/** What the engine is asked from the bench: packets that are followed, and the lens that shows whom a device reaches. */
export function useAsking({
  ask,
  modes,
  view,
  isAllowed,
}: {
  ask: Ask;
  modes: Modes;
  view: RefObject<DrawingView | null>;
  /** Whether the lab lets the bench answer. */
  isAllowed: boolean;
}) {
  const chosen = useBench((state) => state.selection.devices);
  const [lenses, setLenses] = useState(LENSES);
  const isReachOn = Boolean(lenses.reach) && isAllowed;
  const from = isReachOn && chosen.length === 1 ? chosen[0]! : null;
  const found = useReach(ask, from);
  /** Ends the lens; false where it was not on. */
  const endReach = (): boolean => {
    if (lenses.reach) setLenses({ ...lenses, reach: false });
    return Boolean(lenses.reach);
  };
  const send = (request: TraceRequest, before: TraceAnswer | null): void =>
    void ask('trace', request).then((trace) => {
      modes.setTraced({ trace, before, at: trace.steps.length - 1 });
      // The panel takes room of the drawing.
      if (!modes.traced) lookAt(view).reveal(trace.steps.map(({ device }) => device));
    });
  /** Whether one can sign in, as sentences. */
  const signIn = (question: SignInQuestion): Promise<string> =>
    ask('signIn', question).then((answers) => answers.map(({ text }) => text).join(' '));
  const call = (question: { from: string; to: string }): Promise<string> =>
    ask('call', question).then(({ text }) => text);
  const plug = (socket: { device: string; port: string }): Promise<string> =>
    ask('plug', socket).then((sentences) => sentences.join(' '));
  return {
    signIn,
    call,
    plug,
    lenses,
    setLenses,
    reach: isReachOn ? { from, found, onEnd: () => void endReach() } : null,
    endReach,
    send,
  };
}
export type Asking = ReturnType<typeof useAsking>;
