import { type CheckProgress } from '@sobrin/contracts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api } from '../api/client';
import { readAnew } from '../api/queries';
import { listenTo } from '../documents/open-document';
import { lineOfLab } from '../documents/others';
import { announce } from '../ui/announce';

/** Only a safety net: the server tells when something has changed. */
const LOOK_MS = 5_000;
const leftOf = (progress: CheckProgress | undefined): number => (progress ? progress.waiting + progress.running : 0);

/** What else shows results. */
const everywhere = (lab: string): string[][] => [['lab', lab], ['results', lab], ['submission'], ['courses']];

/**
 * Checks everybody who has no current result. It is done on the server, whether this page stays open or not; here one
 * sees how far it is, also when somebody else asked for it.
 */
export function useCheckAll(lab: string) {
  const client = useQueryClient();
  const key = ['checks', lab];
  const checks = useQuery({
    queryKey: key,
    queryFn: () => api('GET labs/:id/checks', { id: lab }),
    staleTime: 0,
    refetchInterval: ({ state }) => (leftOf(state.data) ? LOOK_MS : false),
  });
  useEffect(() => listenTo(lineOfLab(lab), () => void readAnew(client, ['checks', lab]), 'checks'), [client, lab]);
  const left = leftOf(checks.data);
  /** The most that were left since there were none. */
  const [all, setAll] = useState(0);
  const most = left ? Math.max(all, left) : 0;
  if (most !== all) setAll(most);
  const before = useRef(left);
  useEffect(() => {
    if (left === before.current) return;
    before.current = left;
    announce(left ? `Checking ${most - left} of ${most}` : 'All checks are done');
    void readAnew(client, ['class', lab], ...(left ? [] : everywhere(lab)));
  }, [client, lab, left, most]);
  const start = useMutation({
    mutationFn: () => api('POST labs/:id/checks', { id: lab }),
    onSuccess: (progress) => {
      client.setQueryData(key, progress);
      if (!leftOf(progress)) void readAnew(client, ['class', lab], ...everywhere(lab));
    },
  });
  const cancel = useMutation({
    mutationFn: () => api('DELETE labs/:id/checks', { id: lab }),
    onSuccess: () => readAnew(client, key),
  });
  return {
    progress: left ? { done: most - left, all: most } : null,
    /** What could not be checked, and why. */
    failed: left ? [] : (checks.data?.failed ?? []),
    error: start.error ?? cancel.error ?? checks.error,
    isStarting: start.isPending,
    start: () => start.mutate(),
    cancel: () => cancel.mutate(),
  };
}
