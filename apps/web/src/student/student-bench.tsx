import { Box, Button } from '@mui/material';
import { IconArrowLeft } from '@tabler/icons-react';
import { type StudentLabView } from '@sobrin/contracts';
import { Link, useParams } from 'react-router';
import { useMyLab } from '../api/queries';
import { Bench } from '../bench/bench';
import { PlanOffers } from '../bench/offers';
import { BenchProvider, useOpenBench } from '../bench/use-bench';
import { Failure, Waiting } from '../ui/parts';

/** A student's own drawing for a lab. */
export function StudentBench() {
  const { labId } = useParams();
  const lab = useMyLab(labId!);
  if (lab.isPending) return <Waiting what="Opening the lab" />;
  if (lab.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={lab.error} onAgain={() => void lab.refetch()} />
      </Box>
    );
  return <OpenBench lab={lab.data} />;
}

function OpenBench({ lab }: { lab: StudentLabView }) {
  const { documentId, planId, brief, title, courseTitle: course, bench: telling, autoPairing, id: labId } = lab;
  const bench = useOpenBench(documentId);
  if (bench.isPending) return <Waiting what="Opening your drawing" />;
  if (bench.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={bench.error} onAgain={() => void bench.refetch()} />
      </Box>
    );
  return (
    <Box component="main" sx={{ height: '100%' }}>
      <BenchProvider store={bench.data.store}>
        <PlanOffers planId={planId} brief={brief}>
          <Bench
            title={title}
            under={`${course} · your drawing`}
            telling={telling}
            pairing={autoPairing === undefined ? {} : { autoPairing }}
            lost={bench.data.lost}
          >
            <Button
              variant="outlined"
              component={Link}
              to={`/my/labs/${labId}`}
              startIcon={<IconArrowLeft size={16} />}
            >
              Tasks and handing in
            </Button>
          </Bench>
        </PlanOffers>
      </BenchProvider>
    </Box>
  );
}
