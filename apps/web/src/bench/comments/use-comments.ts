import { answerComment, beginComment, resolveComment } from '@sobrin/core/editing';
import { newShortId } from '../../api/new-id';
import { useMe } from '../../api/queries';
import { useSpeaksAs } from '../../documents/read-only';
import { type Talk } from './open-talk';
import { useBench, useBenchStore } from '../use-bench';

/** What can be done with comments; who speaks is who is signed in. */
export function useComments(onTalk: (talk: Talk) => void) {
  const store = useBenchStore();
  const run = useBench((state) => state.do);
  const name = useMe().data?.name ?? 'Somebody';
  const by = useSpeaksAs() ?? name;
  const now = () => ({ by, at: new Date().toISOString() });
  return {
    /** Out: whether it was taken; else it is not lost. */
    onSay: (talk: Exclude<Talk, 'all'>, text: string): boolean => {
      if ('id' in talk) {
        const answer = answerComment(store.getState().document, talk.id, text, now());
        return answer !== null && run('answer a comment', answer);
      }
      const id = newShortId('c');
      const isTaken = run('comment', beginComment(id, talk.about, text, now()));
      if (isTaken) onTalk({ id });
      return isTaken;
    },
    onResolve: (id: string, resolved: boolean): void => {
      const change = resolveComment(store.getState().document, id, resolved);
      if (change) run(resolved ? 'resolve a comment' : 'open a comment again', change);
    },
    onRemove: (id: string): void => {
      run('remove a comment', { kind: 'setComment', id, set: null });
      onTalk('all');
    },
  };
}
