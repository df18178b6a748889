import { Box } from '@mui/material';
import { type ReactNode } from 'react';
import { Failure, Waiting } from './states';

/** Something that is loaded: waiting, a failure that can be tried again, or what is shown with it. */
export function Opened<T>({
  query,
  what,
  children,
}: {
  query: { data: T | undefined; isPending: boolean; error: unknown; refetch: () => Promise<unknown> };
  what: string;
  children: (value: T) => ReactNode;
}) {
  if (query.isPending) return <Waiting what={what} />;
  if (query.data === undefined)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={query.error} onAgain={() => void query.refetch()} />
      </Box>
    );
  return children(query.data);
}
