import { type LabView } from '@sobrin/contracts';
import { type DrilledFault } from '@sobrin/core/spec';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { api } from '../api/client';

/**
 * What came of the drills of a lab so far; this one is kept among them.
 *
 * @param hash of what judges, of the lab that was drilled; null while that is another one than there is
 */
export function useGrown(
  { id, teaches }: LabView,
  faults: readonly DrilledFault[],
  score: number,
  hash: string | null,
) {
  const client = useQueryClient();
  const key = ['drills', id];
  const query = useQuery({ queryKey: key, queryFn: () => api('GET labs/:id/drills', { id }) });
  const count = (outcome: DrilledFault['outcome']): number => faults.filter((each) => each.outcome === outcome).length;
  const [noticed, missed] = [count('noticed'), count('missed')];
  const { mutate, error } = useMutation({
    mutationFn: (specHash: string) => api('POST labs/:id/drills', { id }, { specHash, noticed, missed, score }),
    onSuccess: (drills) => client.setQueryData(key, drills),
  });
  useEffect(() => {
    if (hash !== null && teaches) mutate(hash);
  }, [hash, teaches, noticed, missed, score, mutate]);
  return { drills: query.data ?? [], error: query.error ?? error };
}
