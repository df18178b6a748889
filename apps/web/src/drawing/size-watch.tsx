import { useStore } from '@xyflow/react';
import { useEffect } from 'react';

/** Tells how large the drawing is on the screen. */
export function SizeWatch({ onSize }: { onSize: (width: number, height: number) => void }) {
  const width = useStore((state) => state.width);
  const height = useStore((state) => state.height);
  useEffect(() => onSize(width, height), [onSize, width, height]);
  return null;
}
