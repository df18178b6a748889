import { type CommentKind, type CommentView, type SubmissionView } from '@sobrin/contracts';
import { useMutation } from '@tanstack/react-query';
import { api } from '../api/client';
import { lastError, useTaken } from './use-decisions';

/** What a comment is about. */
export interface About {
  readonly kind: CommentKind;
  /** Empty for the whole work. */
  readonly target: string;
}

/** What is said of a submission. */
export interface Comments {
  /** Whether something may be said here. */
  readonly isMine: boolean;
  readonly list: readonly CommentView[];
  readonly isBusy: boolean;
  readonly error: Error | null;
  say(about: About, text: string): void;
  change(id: string, text: string): void;
  remove(id: string): void;
}

export function useComments({ id, labId, comments }: SubmissionView, isMine: boolean): Comments {
  const onSuccess = useTaken({ id, labId });
  const say = useMutation({
    mutationFn: (said: About & { id: string; text: string }) => api('POST submissions/:id/comments', { id }, said),
    onSuccess,
  });
  const change = useMutation({
    mutationFn: ({ comment, text }: { comment: string; text: string }) =>
      api('PUT submissions/:id/comments/:comment', { id, comment }, { text }),
    onSuccess,
  });
  const remove = useMutation({
    mutationFn: (comment: string) => api('DELETE submissions/:id/comments/:comment', { id, comment }),
    onSuccess,
  });
  const wishes = [say, change, remove];
  return {
    isMine,
    list: comments,
    isBusy: wishes.some(({ isPending }) => isPending),
    error: lastError(wishes),
    say: ({ kind, target }, text) => say.mutate({ id: crypto.randomUUID(), kind, target, text }),
    change: (comment, text) => change.mutate({ comment, text }),
    remove: remove.mutate,
  };
}
