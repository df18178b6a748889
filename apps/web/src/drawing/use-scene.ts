import { type Scene, SceneKeeper } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { useMemo, useState } from 'react';
import { type DrawingProps } from './drawing-props';
import { manyLinksOf } from './flying-links';
import { type Lenses } from './lenses';
import { middleSizes } from './link-layer';
import { type useMoved } from './use-moving';

/** The topology laid out as it is seen at the moment, with what is being moved where the pointer has it. */
export function useScene({
  topology,
  facts,
  lenses,
  moved: { moving, sizing },
  places,
  texts,
}: {
  topology: Topology;
  facts: Exclude<DrawingProps['facts'], undefined>;
  lenses: Lenses;
  moved: Pick<ReturnType<typeof useMoved>, 'moving' | 'sizing'>;
  /** Where devices stand in place of where the topology has them. */
  places: DrawingProps['places'];
  /** Whether texts are laid out. */
  texts: boolean;
}): { scene: Scene; flying: ReadonlySet<string> | null } {
  const [keeper] = useState(() => new SceneKeeper());
  const at = moving?.devices ?? places;
  const carried = moving?.carried;
  const picture = moving?.picture;
  const middles = useMemo(() => middleSizes(topology, facts, lenses), [topology, facts, lenses]);
  // The links of many devices that move at once are drawn by themselves.
  const flying = useMemo(() => manyLinksOf(topology, moving?.ids), [topology, moving?.ids]);
  const light = flying !== null;
  const pictures = useMemo(
    () => (picture ? new Map([[picture.id, { x: picture.x, y: picture.y }]]) : sizing),
    [picture, sizing],
  );
  const scene = useMemo(
    () => keeper.scene(topology, { at, carried, pictures, middles, texts, light }),
    [keeper, topology, at, carried, pictures, middles, texts, light],
  );
  return { scene, flying };
}
