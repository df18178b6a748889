import { type Drill, type DrilledLab, drill } from '@sobrin/core/spec';

/** What is told of a drill: how many of how many drawings have been tried, and at the end what came of it. */
export type DrillNews =
  { readonly done: number; readonly of: number } | { readonly found: Drill } | { readonly trouble: string };

/** So many drawings are tried between two words about it. */
const EVERY = 5;

/** Drills a spec in the background: one lab goes in, news come out. */
self.onmessage = ({ data }: MessageEvent<DrilledLab>) => {
  const tell = (news: DrillNews): void => self.postMessage(news);
  try {
    const onStep = (done: number, of: number): undefined => {
      if (done % EVERY === 0) tell({ done, of });
    };
    tell({ found: drill(data, { onStep }) });
  } catch (error) {
    tell({ trouble: error instanceof Error ? error.message : String(error) });
  }
};
