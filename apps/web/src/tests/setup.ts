import '@testing-library/jest-dom';
import { configure } from '@testing-library/react';

// A second is the default; a machine that others use takes longer.
configure({ asyncUtilTimeout: 30_000 });

/** jsdom has no EventSource: in these tests nobody else saves. */
class Silent {
  addEventListener(): void {}
  close(): void {}
}
/** Nor has it a layout whose sizes could change. */
class Still {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
Object.assign(globalThis, { EventSource: Silent, ResizeObserver: Still });
