import { type Spot } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { useState } from 'react';
import { type MarqueeKind } from '../drawing/marquee';
import { type TraceAnswer } from '../workers/trace-answer';
import { type Talk } from './comments/open-talk';
import { LinkingLine, StatusLine } from './hands/linking-line';
import { Carried, type Placing } from './hands/placing';
import { type useArrange } from './hands/use-arrange';
import { type Reach } from './asking/use-reach';

/** A packet that is followed, and the step at which one stands. */
export interface Traced {
  trace: TraceAnswer;
  /** What the same question gave before. */
  before: TraceAnswer | null;
  at: number;
}

/** What the bench is in the middle of: each of these goes on until it is done or ended. */
export function useModes() {
  /** The devices from which the next link starts, while links are made. */
  const [linking, setLinking] = useState<readonly string[] | null>(null);
  const [marquee, setMarquee] = useState<MarqueeKind | null>(null);
  const [traced, setTraced] = useState<Traced | null>(null);
  /** The device whose tables are shown. */
  const [tabled, setTabled] = useState<string | null>(null);
  const [talk, setTalk] = useState<Talk | null>(null);
  const [placing, setPlacing] = useState<Placing | null>(null);
  /** Ends what was begun last, and says whether there was something. */
  const end = (): boolean => {
    if (marquee) setMarquee(null);
    else if (placing) setPlacing(null);
    else if (linking) setLinking(null);
    else if (traced) setTraced(null);
    else if (tabled !== null) setTabled(null);
    else if (talk !== null) setTalk(null);
    else return false;
    return true;
  };
  return {
    linking,
    setLinking,
    marquee,
    setMarquee,
    traced,
    setTraced,
    tabled,
    setTabled,
    talk,
    setTalk,
    placing,
    setPlacing,
    end,
  };
}
export type Modes = ReturnType<typeof useModes>;

/** What goes on just now, over the drawing, each with a way to end it. */
export function ModeLines({
  modes: { linking, setLinking, marquee, setMarquee, traced, placing, setPlacing },
  arranging,
  reach,
  topology,
  onDrop,
}: {
  modes: Modes;
  arranging: Pick<ReturnType<typeof useArrange>, 'progress' | 'cancel'>;
  /** The lens that shows whom a device reaches, while it is on. */
  reach: { from: string | null; found: Reach | null; onEnd: () => void } | null;
  topology: Topology;
  /** A device from the kit is let go at a place of the screen. */
  onDrop: (model: string, client: Spot) => void;
}) {
  const nameOf = (id: string): string => topology.devices[id]?.name ?? '';
  return (
    <>
      {arranging.progress && (
        <StatusLine onEnd={arranging.cancel} end="Cancel">
          Arranging: {arranging.progress.done} of {arranging.progress.of} parts
        </StatusLine>
      )}
      {reach && !traced && (
        <StatusLine onEnd={reach.onEnd} end="End">
          {reach.from === null
            ? 'Choose a device to see whom it reaches'
            : reach.found
              ? `${nameOf(reach.from)} reaches ${reach.found.reached} of ${reach.found.of} devices with an address`
              : 'Following packets'}
        </StatusLine>
      )}
      {linking && <LinkingLine names={linking.map(nameOf)} onEnd={() => setLinking(null)} />}
      {marquee && (
        <StatusLine onEnd={() => setMarquee(null)} end="End">
          {marquee === 'box' ? 'Draw a rectangle over what to choose' : 'Draw a line round what to choose'}
        </StatusLine>
      )}
      {placing && !placing.held && (
        <StatusLine onEnd={() => setPlacing(null)} end="End">
          Each click puts one down
        </StatusLine>
      )}
      {placing && (
        <Carried
          placing={placing}
          topology={topology}
          onEnd={(dropped) => {
            setPlacing(null);
            if (dropped) onDrop(placing.model, dropped);
          }}
        />
      )}
    </>
  );
}
