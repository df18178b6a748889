import { type EngineOptions } from '@sobrin/core/engine';
import { type Topology } from '@sobrin/core/topology';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type EngineClient, startEngine } from './engine-client';
import { type Facts, NO_FACTS } from './facts';
import { type Ask, type RequestKind, type EngineRequests } from './engine-requests';

interface Engine {
  facts: Facts;
  /** Asks about the drawing as it is now. */
  ask: Ask;
}

/**
 * The engine beside a drawing: its facts are those of the drawing a moment ago, as they are computed in a worker.
 *
 * @param shown the drawing whose facts are shown, where that is another one than what is asked about
 */
export function useEngine(topology: Topology, asked: Partial<EngineOptions>, shown: Topology = topology): Engine {
  const [facts, setFacts] = useState(NO_FACTS);
  const engine = useRef<EngineClient | null>(null);
  // The same options stay the same value, whichever page makes them anew each time it is drawn.
  const text = JSON.stringify(asked);
  const options = useMemo(() => JSON.parse(text) as Partial<EngineOptions>, [text]);
  useEffect(() => {
    engine.current = startEngine(setFacts);
    return () => engine.current?.close();
  }, []);
  useEffect(() => engine.current?.watch(shown, options), [shown, options]);
  const ask = useCallback(
    <K extends RequestKind>(kind: K, asked: EngineRequests[K]['asked']) =>
      engine.current!.ask(topology, options, kind, asked),
    [topology, options],
  );
  return { facts, ask };
}

/** What the engine says of a drawing that one only looks at. */
export const useFacts = (topology: Topology, options: Partial<EngineOptions>): Facts =>
  useEngine(topology, options).facts;
