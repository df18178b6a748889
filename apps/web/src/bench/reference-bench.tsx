import { useShownLab } from '../lab/lab-shell';
import { Opened } from '../ui/opened';
import { Bench } from './bench';
import { SpecGroups } from './asking/named-groups';
import { PlanProvider } from './plan-of-lab';
import { optionsOf } from '@sobrin/core/engine';
import { BenchProvider, useOpenBench } from './use-bench';
import { usePageTitle } from '../ui/announce';

/** The instructor's own topology of a lab. */
export function ReferenceBench() {
  const lab = useShownLab();
  usePageTitle('Bench', lab.title);
  const bench = useOpenBench(lab.referenceId);
  return (
    <Opened query={bench} what="Opening the reference">
      {({ store, lost }) => (
        <BenchProvider store={store} id={lab.referenceId}>
          <PlanProvider planId={lab.planId} brief={lab.brief}>
            <SpecGroups groups={lab.spec.groups}>
              <Bench
                title={lab.title}
                under={`${lab.courseTitle} · reference${lab.mayEdit ? '' : ', to be read'}`}
                help="coach"
                automatic
                owned
                equipment={optionsOf(lab.policy)}
                lost={lost}
              />
            </SpecGroups>
          </PlanProvider>
        </BenchProvider>
      )}
    </Opened>
  );
}
