import { QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ApiError, api } from './client';

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      refetchOnWindowFocus: false,
      // Without a connection a request fails and says so: one that waits would be made when nobody wants it any more.
      networkMode: 'always',
      retry: (count, error) => count < 2 && (!(error instanceof ApiError) || error.status === 0 || error.status >= 500),
    },
    mutations: { networkMode: 'always' },
  },
});

export const useMe = () =>
  useQuery({
    queryKey: ['me'],
    queryFn: () => api('GET auth/me').then(({ me }) => me),
    staleTime: Infinity,
  });
export const useDemoPeople = () => useQuery({ queryKey: ['demo'], queryFn: () => api('GET auth/demo') });
export const useCourses = () => useQuery({ queryKey: ['courses'], queryFn: () => api('GET courses') });
export const useMembers = (course: string) =>
  useQuery({ queryKey: ['members', course], queryFn: () => api('GET courses/:id/roster', { id: course }) });
export const useLab = (id: string) => useQuery({ queryKey: ['lab', id], queryFn: () => api('GET labs/:id', { id }) });
export const useMyLab = (id: string) =>
  useQuery({ queryKey: ['my-lab', id], queryFn: () => api('GET my/labs/:id', { id }) });
export const useClassRows = (lab: string) =>
  useQuery({ queryKey: ['class', lab], queryFn: () => api('GET labs/:id/submissions', { id: lab }) });
export const useSignOffs = (lab: string) =>
  useQuery({ queryKey: ['class', lab, 'sign-offs'], queryFn: () => api('GET labs/:id/sign-offs', { id: lab }) });
export const useLookIn = (lab: string, student: string) =>
  useQuery({
    queryKey: ['look-in', lab, student],
    queryFn: () => api('GET labs/:id/drawings/:student', { id: lab, student }),
  });
export const useSubmission = (id: string) =>
  useQuery({ queryKey: ['submission', id], queryFn: () => api('GET submissions/:id', { id }) });
export const useResults = (lab: string) =>
  useQuery({ queryKey: ['results', lab], queryFn: () => api('GET labs/:id/results', { id: lab }) });

/**
 * Reads anew what begins with each of these keys, where it is shown. What is on its way was asked for before the change:
 * it is given up, as the library would take a first answer for the new one.
 */
export const readAnew = (client: QueryClient, ...keys: readonly (readonly unknown[])[]): Promise<unknown> =>
  Promise.all(
    keys.map(async (queryKey) => {
      await client.cancelQueries({ queryKey });
      await client.invalidateQueries({ queryKey });
    }),
  );

/** A change on the server after which some of what was read is read anew. */
export function useChange<Input, Output>(change: (input: Input) => Promise<Output>, ...stale: readonly unknown[][]) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => readAnew(client, ...stale),
  });
}
