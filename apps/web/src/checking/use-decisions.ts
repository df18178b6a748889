import { type DecideRequest, type PinRequest, type SubmissionView } from '@sobrin/contracts';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api } from '../api/client';
import { readAnew } from '../api/queries';

/** What a person decides of a submission, and who they say plays which role. */
export interface Decisions {
  /** Whether it may be decided here. */
  readonly isMine: boolean;
  readonly list: SubmissionView['decisions'];
  readonly isBusy: boolean;
  readonly error: Error | null;
  decide(decision: DecideRequest): void;
  takeBack(id: string): void;
  /** As it is proposed, in the attempt that counts of everybody in the class. */
  acceptForAll(requirement: string, code: string): void;
  pin(pin: PinRequest): void;
}

/** Takes over what the server answers to a change of a submission. */
export function useTaken({ id, labId }: Pick<SubmissionView, 'id' | 'labId'>) {
  const client = useQueryClient();
  const key = ['submission', id];
  return async (view: SubmissionView): Promise<void> => {
    await client.cancelQueries({ queryKey: key });
    client.setQueryData(key, view);
    await readAnew(client, ['class', labId], ['results', labId]);
  };
}

/** The error of that one of several wishes that was tried last; null where it came true. */
export const lastError = (
  wishes: readonly { isError: boolean; submittedAt: number; error: Error | null }[],
): Error | null =>
  wishes
    .filter(({ isError }) => isError)
    .sort((one, other) => other.submittedAt - one.submittedAt)
    .map(({ error }) => error)[0] ?? null;

export function useDecisions({ id, labId, decisions }: SubmissionView, isMine: boolean): Decisions {
  const client = useQueryClient();
  const taken = useTaken({ id, labId });
  const decide = useMutation({
    mutationFn: (request: DecideRequest) => api('POST submissions/:id/decisions', { id }, request),
    onSuccess: taken,
  });
  const back = useMutation({
    mutationFn: (decision: string) => api('DELETE submissions/:id/decisions/:decision', { id, decision }),
    onSuccess: taken,
  });
  const pin = useMutation({
    mutationFn: (request: PinRequest) => api('PUT submissions/:id/pins', { id }, request),
    onSuccess: taken,
  });
  const all = useMutation({
    mutationFn: (request: { requirement: string; code: string }) =>
      api('POST labs/:id/proposals', { id: labId }, request),
    onSuccess: () => readAnew(client, ['submission'], ['class', labId], ['results', labId]),
  });
  const wishes = [decide, back, pin, all];
  return {
    isMine,
    list: decisions,
    isBusy: wishes.some(({ isPending }) => isPending),
    error: lastError(wishes),
    decide: decide.mutate,
    takeBack: back.mutate,
    acceptForAll: (requirement, code) => all.mutate({ requirement, code }),
    pin: pin.mutate,
  };
}
