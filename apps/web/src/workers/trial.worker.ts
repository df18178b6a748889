import { type SubmissionView } from '@sobrin/contracts';
import { type JudgingLab, type PreparedLab, prepareLab } from '@sobrin/core/spec';
import { type Tried, triedOn } from '../lab/trial';

export type TrialWish = { readonly lab: JudgingLab } | { readonly submission: SubmissionView };
export type TrialNews = { readonly tried: Tried } | { readonly failed: string };

let prepared: PreparedLab | null = null;

/** Judges submissions by a lab in the background: first the lab comes, then one submission after the other. */
self.onmessage = ({ data }: MessageEvent<TrialWish>) => {
  const tell = (news: TrialNews): void => self.postMessage(news);
  if ('lab' in data) {
    prepared = prepareLab(data.lab);
    return;
  }
  try {
    tell({ tried: triedOn(prepared!, data.submission) });
  } catch {
    tell({ failed: data.submission.student.name });
  }
};
