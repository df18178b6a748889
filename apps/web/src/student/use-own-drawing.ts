import { type StudentLabView } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { readDrawing } from '../api/documents';

/** A student's drawing for a lab as the server has it. */
export const useOwnDrawing = (lab: StudentLabView) =>
  useQuery({
    queryKey: ['document', lab.documentId],
    queryFn: () => readDrawing(lab.documentId),
    staleTime: 0,
    gcTime: 0,
  });
