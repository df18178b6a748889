import { type EngineOptions, type Topology, analyse } from '@sobrin/core';
import { type Facts, factsOf } from './facts';
import { type ToldReach, toldReach } from './told-reach';
import { type ToldTrace, toldTrace } from './told-trace';

export interface Question {
  turn: number;
  topology: Topology;
  options: Partial<EngineOptions>;
  /** A packet to follow; without it all facts are asked for. */
  packet?: { from: string; to: string };
  /** A device whose reach is asked for. */
  reach?: string;
}
export interface EngineAnswer {
  turn: number;
  facts?: Facts;
  trace?: ToldTrace;
  reach?: ToldReach;
}

/** Computes in the background what the engine says of a drawing. */
self.onmessage = ({ data: { turn, topology, options, packet, reach } }: MessageEvent<Question>) => {
  const answer: EngineAnswer = packet
    ? { turn, trace: toldTrace(analyse(topology, options), packet.from, packet.to) }
    : reach !== undefined
      ? { turn, reach: toldReach(analyse(topology, options), reach) }
      : { turn, facts: factsOf(topology, options) };
  self.postMessage(answer);
};
