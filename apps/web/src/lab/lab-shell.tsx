import { Box } from '@mui/material';
import { Outlet, useOutletContext, useParams } from 'react-router';
import { type LabView } from '@sobrin/contracts';
import { useLab } from '../api/queries';
import { ReadOnlyProvider } from '../documents/read-only';
import { Failure, Waiting } from '../ui/states';
import { Rail } from './rail';
import { IF_SMALL, PAGE } from '../ui/frame';

/** A lab: its rail at the left, the station that is open beside it. */
export function LabShell() {
  const { labId } = useParams();
  const lab = useLab(labId!);
  if (lab.isPending) return <Waiting what="Loading the lab" />;
  if (lab.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={lab.error} onAgain={() => void lab.refetch()} />
      </Box>
    );
  return (
    <Box sx={{ height: '100%', display: 'flex', [IF_SMALL]: { height: 'auto', flexDirection: 'column-reverse' } }}>
      <Rail lab={lab.data} />
      <Box component="main" sx={{ ...PAGE, flex: 1 }}>
        <ReadOnlyProvider
          value={
            lab.data.mayEdit
              ? null
              : `The lab lies in the library of ${lab.data.owner}: here it can be read, not changed.`
          }
        >
          <Outlet context={lab.data} />
        </ReadOnlyProvider>
      </Box>
    </Box>
  );
}

export const useShownLab = (): LabView => useOutletContext<LabView>();
