import { type EngineOptions, type Topology } from '@sobrin/core';
import { useEffect, useRef, useState } from 'react';
import { type EngineClient, startEngine } from './engine-client';
import { type Facts, NO_FACTS } from './facts';

/** What the engine says of the drawing as it is now; a moment late, as it is computed beside. */
export function useFacts(topology: Topology, options: Partial<EngineOptions>): Facts {
  const [facts, setFacts] = useState(NO_FACTS);
  const engine = useRef<EngineClient | null>(null);
  useEffect(() => {
    engine.current = startEngine(setFacts);
    return () => engine.current?.close();
  }, []);
  const { autoPairing, vlanPolicy } = options;
  useEffect(() => {
    engine.current?.ask(topology, {
      ...(autoPairing !== undefined && { autoPairing }),
      ...(vlanPolicy !== undefined && { vlanPolicy }),
    });
  }, [topology, autoPairing, vlanPolicy]);
  return facts;
}
