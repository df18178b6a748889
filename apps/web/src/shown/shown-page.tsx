import { Box } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { ApiError, api } from '../api/client';
import { Drawing } from '../drawing/drawing';
import { LensButton } from '../drawing/lens-button';
import { type Lenses } from '../drawing/lenses';
import { Mark } from '../ui/mark';
import { Empty, Failure, Waiting } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { usePageTitle } from '../ui/announce';
import { PAGE, SIGHT } from '../ui/frame';

const WORDS = { ends: 'Ends', subnets: 'Subnets', vlans: 'VLANs', cables: 'Cable' } as const;

/** A drawing for those who have its address and need no account: to be looked at, and nothing else. */
export function ShownPage() {
  const { key } = useParams();
  const shown = useQuery({
    queryKey: ['shown', key],
    queryFn: () => api('GET shown/:key', { key: key! }),
    retry: false,
    refetchOnWindowFocus: true,
  });
  const [lenses, setLenses] = useState<Lenses>({ ends: true, subnets: true, cables: false });
  usePageTitle(shown.data?.title);
  if (shown.isPending) return <Waiting what="Opening the drawing" />;
  if (shown.isError)
    return shown.error instanceof ApiError && shown.error.status === 404 ? (
      <Empty title="Nothing is shown here">
        The address was taken back, or a letter of it is missing. Ask whoever gave it to you for another one.
      </Empty>
    ) : (
      <Failure error={shown.error} onAgain={() => void shown.refetch()} />
    );
  const { title, document } = shown.data;
  return (
    <Box sx={PAGE}>
      <TopBar title={title} under="to be looked at: nothing can be changed here">
        <Box role="toolbar" aria-label="Lenses" sx={{ display: 'flex', gap: 0.5 }}>
          {(Object.keys(WORDS) as (keyof typeof WORDS)[]).map((lens) => (
            <LensButton
              key={lens}
              text={WORDS[lens]}
              isOn={lenses[lens] ?? false}
              onToggle={() => setLenses({ ...lenses, [lens]: !lenses[lens] })}
            />
          ))}
        </Box>
        <Mark size={28} />
      </TopBar>
      <Box component="main" sx={SIGHT}>
        {Object.keys(document.devices).length ? (
          <Drawing topology={document} label={`Drawing: ${title}`} lenses={lenses} />
        ) : (
          <Empty title="Nothing is drawn yet" />
        )}
      </Box>
    </Box>
  );
}
