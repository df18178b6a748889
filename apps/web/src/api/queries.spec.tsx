import { QueryClient, QueryClientProvider, useQuery, useQueryClient } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import { readAnew } from './queries';

test('what is read for the first time while it changes is read again: the answer from before does not stay', async () => {
  const answers: ((list: string[]) => void)[] = [];
  let client: QueryClient | undefined;
  function List() {
    client = useQueryClient();
    const { data } = useQuery({
      queryKey: ['versions'],
      queryFn: () => new Promise<string[]>((resolve) => answers.push(resolve)),
    });
    return <p>{data ? data.join(', ') || 'none' : 'waiting'}</p>;
  }
  render(
    <QueryClientProvider client={new QueryClient()}>
      <List />
    </QueryClientProvider>,
  );
  expect(answers.length).toBe(1);
  // Somebody names a version before the list has come.
  const done = readAnew(client!, ['versions']);
  await waitFor(() => expect(answers.length).toBe(2));
  answers[0]!([]);
  answers[1]!(['Before the party']);
  await done;
  expect(await screen.findByText('Before the party')).toBeInTheDocument();
});
