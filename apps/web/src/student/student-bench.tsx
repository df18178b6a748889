import { Box, Button } from '@mui/material';
import { IconArrowLeft } from '@tabler/icons-react';
import { type StudentLabView } from '@sobrin/contracts';
import { Link } from 'react-router';
import { Bench } from '../bench/bench';
import { PlanProvider } from '../bench/plan-of-lab';
import { BenchProvider, useOpenBench } from '../bench/use-bench';
import { Opened } from '../ui/opened';
import { optionsOf } from '@sobrin/core/engine';
import { WithLab } from './with-lab';
import { usePageTitle } from '../ui/announce';
import { PAGE } from '../ui/frame';

/** A student's own drawing for a lab. */
export const StudentBench = () => <WithLab>{(lab) => <OwnBench lab={lab} />}</WithLab>;

function OwnBench({ lab }: { lab: StudentLabView }) {
  usePageTitle('Your drawing', lab.title);
  const bench = useOpenBench(lab.documentId);
  return (
    <Opened query={bench} what="Opening your drawing">
      {({ store, lost }) => (
        <Box component="main" sx={PAGE}>
          <BenchProvider store={store} id={lab.documentId}>
            <PlanProvider planId={lab.planId} brief={lab.brief}>
              <Bench
                title={lab.title}
                under={`${lab.courseTitle} · your drawing`}
                help={lab.bench}
                automatic={lab.autoCabling ?? lab.bench === 'coach'}
                kit={lab.kit}
                modules={lab.modules}
                equipment={optionsOf(lab)}
                lost={lost}
              >
                <Button
                  variant="outlined"
                  component={Link}
                  to={`/my/labs/${lab.id}`}
                  startIcon={<IconArrowLeft size={16} />}
                >
                  Tasks
                </Button>
              </Bench>
            </PlanProvider>
          </BenchProvider>
        </Box>
      )}
    </Opened>
  );
}
