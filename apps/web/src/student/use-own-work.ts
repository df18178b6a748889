import { type StudentLabView } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { readDrawing, readPlan } from '../api/documents';

/** Always as the server has it now: it may have been changed on another page since. */
const NOW = { staleTime: 0, gcTime: 0 };

/** A student's drawing for a lab as the server has it. */
export const useOwnDrawing = (lab: StudentLabView) =>
  useQuery({ queryKey: ['document', lab.documentId], queryFn: () => readDrawing(lab.documentId), ...NOW });

/** A student's plan for a lab as the server has it. */
export const useOwnPlan = (lab: StudentLabView) =>
  useQuery({ queryKey: ['document', lab.planId], queryFn: () => readPlan(lab.planId), ...NOW });
