import { type Draft, type DraftedLab, draftOf } from '@sobrin/core/spec';

/** What is told of a draft in the making: how many of how many faults have been tried, and at the end the draft. */
export type DraftNews =
  { readonly done: number; readonly of: number } | { readonly draft: Draft } | { readonly trouble: string };

/** Drafts a spec in the background: one lab goes in, news come out. */
self.onmessage = ({ data }: MessageEvent<DraftedLab>) => {
  const tell = (news: DraftNews): void => self.postMessage(news);
  try {
    tell({ draft: draftOf(data, (done, of) => tell({ done, of })) });
  } catch (error) {
    tell({ trouble: error instanceof Error ? error.message : String(error) });
  }
};
