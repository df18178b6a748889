import { type StudentLabView } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { openAnswers } from './answers';

/** The answers to a lab's tasks, with what of them a closed tab left; undefined until that is known. */
export function useAnswers({ id, documentId, answers }: StudentLabView) {
  const { data } = useQuery({
    queryKey: ['answers', documentId],
    queryFn: () => openAnswers(id, documentId, answers),
    staleTime: 0,
    gcTime: 0,
  });
  useEffect(() => data?.getState().hear(answers), [data, answers]);
  return data;
}
