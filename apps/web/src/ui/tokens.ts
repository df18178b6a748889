import { type Scheme, TONES, colour } from '@sobrin/core/drawing';

/** Sobrin's colours as CSS variables. */
export const tokenSheet = (scheme: Scheme): Record<string, string> =>
  Object.fromEntries(Object.keys(TONES).map((name) => [`--${name}`, colour(scheme, name)]));

export const FONT = '"Atkinson Hyperlegible Next Variable", system-ui, sans-serif';
export const MONO = '"Atkinson Hyperlegible Mono Variable", ui-monospace, monospace';
