import { Box } from '@mui/material';
import { useShownLab } from '../lab/lab-shell';
import { Failure, Waiting } from '../ui/parts';
import { Bench } from './bench';
import { PlanOffers } from './offers';
import { BenchProvider, useOpenBench } from './use-bench';

/** The instructor's own topology of a lab. */
export function ReferenceBench() {
  const lab = useShownLab();
  const bench = useOpenBench(lab.referenceId);
  if (bench.isPending) return <Waiting what="Opening the reference" />;
  if (bench.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure error={bench.error} onAgain={() => void bench.refetch()} />
      </Box>
    );
  return (
    <BenchProvider store={bench.data.store}>
      <PlanOffers planId={lab.planId} brief={lab.brief}>
        <Bench
          title={lab.title}
          under={`${lab.courseTitle} · reference`}
          telling="coach"
          pairing={pairingOf(lab.policy)}
          lost={bench.data.lost}
        />
      </PlanOffers>
    </BenchProvider>
  );
}

export const pairingOf = (policy: { autoPairing?: boolean }): { autoPairing?: boolean } =>
  policy.autoPairing === undefined ? {} : { autoPairing: policy.autoPairing };
