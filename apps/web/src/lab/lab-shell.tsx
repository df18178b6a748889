import { Box } from '@mui/material';
import { useEffect } from 'react';
import { Outlet, useOutletContext, useParams } from 'react-router';
import { type LabView } from '@sobrin/contracts';
import { useLab } from '../api/queries';
import { Failure, Waiting } from '../ui/parts';
import { Rail } from './rail';

/** A lab: its rail at the left, the station that is open beside it. */
export function LabShell() {
  const { labId } = useParams();
  const lab = useLab(labId!);
  useBenchAtHand();
  if (lab.isPending) return <Waiting what="Loading the lab" />;
  if (lab.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={lab.error} onAgain={() => void lab.refetch()} />
      </Box>
    );
  return (
    <Box sx={{ height: '100%', display: 'flex' }}>
      <Rail lab={lab.data} />
      <Box component="main" sx={{ flex: 1, minWidth: 0, height: '100%', display: 'flex', flexDirection: 'column' }}>
        <Outlet context={lab.data} />
      </Box>
    </Box>
  );
}

/** Loads the bench while nothing else is to be done, so that it opens at once. */
function useBenchAtHand(): void {
  useEffect(() => {
    const timer = window.setTimeout(() => void import('../bench/reference-bench'), 1000);
    return () => window.clearTimeout(timer);
  }, []);
}

export const useShownLab = (): LabView => useOutletContext<LabView>();
