import { type EngineOptions, type Topology } from '@sobrin/core';
import { factsOf } from './facts';

/** Computes in the background what the engine says of a drawing. */
self.onmessage = ({ data }: MessageEvent<{ turn: number; topology: Topology; options: Partial<EngineOptions> }>) => {
  self.postMessage({ turn: data.turn, facts: factsOf(data.topology, data.options) });
};
