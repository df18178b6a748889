import { Box, Button } from '@mui/material';
import { IconPencil } from '@tabler/icons-react';
import { type StudentLabView } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { planTree } from '@sobrin/core/plan';
import { Link } from 'react-router';
import { BlockMap } from '../plan/block-map';
import { Panel } from '../ui/panel';
import { Failure } from '../ui/states';
import { useOwnPlan } from './use-own-work';

/** The student's own address plan: how far it is, and the way to it. */
export function OwnPlanPanel({ lab }: { lab: StudentLabView }) {
  const plan = useOwnPlan(lab);
  const blocks = Object.keys(plan.data?.document.blocks ?? {}).length;
  const addresses = Object.keys(plan.data?.document.addresses ?? {}).length;
  return (
    <Panel
      title="Your address plan"
      aside={
        plan.data &&
        (blocks ? `${plural(blocks, 'block')}, ${plural(addresses, 'address', 'addresses')}` : 'nothing planned yet')
      }
    >
      {plan.data && blocks > 0 && <BlockMap tree={planTree(plan.data.document)} chosen={null} onChoose={null} />}
      <Box sx={{ p: 1.5 }}>
        {plan.isError && <Failure error={plan.error} onAgain={() => void plan.refetch()} />}
        <Button variant="outlined" component={Link} to={`/my/labs/${lab.id}/plan`} startIcon={<IconPencil size={16} />}>
          Open the plan
        </Button>
      </Box>
    </Panel>
  );
}
