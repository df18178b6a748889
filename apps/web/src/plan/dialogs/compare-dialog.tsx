import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { IconArrowLeft, IconArrowRight } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import { intoDrawing, intoPlan } from '@sobrin/core/editing';
import { adoptDrawing, compareWithDrawing, differenceWords } from '@sobrin/core/plan';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { newShortId } from '../../api/new-id';
import { type BenchStore } from '../../bench/bench-store';
import { useOpenBench } from '../../bench/use-bench';
import { useKeeping } from '../../documents/open-document';
import { Empty, Failure, Waiting } from '../../ui/states';
import { usePlan, usePlanFacts, usePlanSetting } from '../use-plan';

/** Plan and drawing beside each other: where they differ, and each can be taken over into the other. */
export default function CompareDialog({ drawingId, onClose }: { drawingId: string; onClose: () => void }) {
  const drawing = useOpenBench(drawingId);
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ pb: 1 }}>Plan and drawing</DialogTitle>
      {drawing.isPending ? (
        <Waiting what="Opening the drawing" />
      ) : drawing.isError ? (
        <Box sx={{ p: 2 }}>
          <Failure error={drawing.error} onAgain={() => void drawing.refetch()} />
        </Box>
      ) : (
        <Differences bench={drawing.data.store} />
      )}
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function Differences({ bench }: { bench: BenchStore }) {
  useKeeping(bench);
  const { document: topology, do: draw } = useStore(bench);
  const tree = usePlanFacts((facts) => facts.tree);
  const run = usePlan((state) => state.do);
  const { brief } = usePlanSetting();
  const differences = useMemo(() => compareWithDrawing(tree, brief, topology), [tree, brief, topology]);
  const planned = differences.flatMap((difference) =>
    difference.kind === 'onlyDrawn' ? (intoPlan(difference) ?? []) : [],
  );
  const drawn = differences.flatMap((difference) =>
    difference.kind === 'onlyPlanned' ? (intoDrawing(difference, tree, topology) ?? []) : [],
  );
  const adopt = (): void => {
    const { plan } = adoptDrawing(topology, () => newShortId('b'));
    run('build a plan from the drawing', { kind: 'replace', plan });
  };
  if (!Object.keys(topology.devices).length)
    return (
      <DialogContent>
        <Empty title="Nothing is drawn yet">
          When devices with addresses stand on the Bench, they are compared with the plan here.
        </Empty>
      </DialogContent>
    );
  return (
    <DialogContent sx={{ minHeight: 240, maxHeight: 520 }}>
      {tree.nodes.size === 0 && <Adoption topology={topology} onAdopt={adopt} />}
      {tree.nodes.size > 0 && differences.length === 0 && (
        <Empty title="Plan and drawing agree">Every address in the drawing is as the plan has it.</Empty>
      )}
      {tree.nodes.size > 0 && differences.length > 0 && (
        <>
          <Box sx={{ display: 'flex', gap: 1, mb: 1, alignItems: 'center' }}>
            <Typography sx={{ flex: 1 }}>{plural(differences.length, 'difference')}</Typography>
            {planned.length > 0 && (
              <Button
                size="small"
                variant="outlined"
                onClick={() => run('take over the drawing’s addresses', ...planned)}
              >
                Take the {planned.length === 1 ? 'drawn address' : `${planned.length} drawn addresses`} into the plan
              </Button>
            )}
            {drawn.length > 0 && (
              <Button size="small" variant="outlined" onClick={() => draw('take over the plan’s addresses', ...drawn)}>
                Set the planned ones in the drawing
              </Button>
            )}
          </Box>
          <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {differences.map((difference, at) => {
              const plan = intoPlan(difference);
              const drawing = intoDrawing(difference, tree, topology);
              return (
                <Box
                  component="li"
                  key={`${difference.kind} ${difference.address} ${at}`}
                  sx={{ display: 'flex', gap: 1, alignItems: 'center', py: 0.5, borderTop: '1px solid var(--line)' }}
                >
                  <Typography sx={{ flex: 1 }}>{differenceWords(difference)}</Typography>
                  {plan && (
                    <Button
                      size="small"
                      startIcon={<IconArrowLeft size={14} />}
                      onClick={() => run('take over an address', plan)}
                    >
                      {difference.kind === 'onlyPlanned' ? 'free it in the plan' : 'as drawn'}
                    </Button>
                  )}
                  {drawing && (
                    <Button
                      size="small"
                      endIcon={<IconArrowRight size={14} />}
                      onClick={() => draw('take over an address', ...drawing)}
                    >
                      as planned
                    </Button>
                  )}
                </Box>
              );
            })}
          </Box>
        </>
      )}
    </DialogContent>
  );
}

/** A drawing that was made without a plan: the subnets it uses, and what in it does not agree with itself. */
function Adoption({ topology, onAdopt }: { topology: Parameters<typeof adoptDrawing>[0]; onAdopt: () => void }) {
  const { plan, inconsistent } = useMemo(() => adoptDrawing(topology, (nth) => `n${nth}`), [topology]);
  const blocks = Object.values(plan.blocks);
  const count = Object.keys(plan.addresses ?? {}).length;
  if (!blocks.length)
    return <Empty title="No address in the drawing can be read">Set addresses on the Bench first.</Empty>;
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        There is no plan yet. The drawing uses {plural(blocks.length, 'block')} with{' '}
        {plural(count, 'address', 'addresses')}:
      </Typography>
      <Box
        component="table"
        sx={{ borderCollapse: 'collapse', '& td': { pr: 3, py: '3px', borderTop: '1px solid var(--line)' } }}
      >
        <tbody>
          {blocks.map((block) => (
            <tr key={block.prefix}>
              <td className="mono">{block.prefix}</td>
              <td>{block.name}</td>
              <td>{block.vlan !== undefined && `VLAN ${block.vlan}`}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      {inconsistent.length > 0 && (
        <Box component="section" aria-label="Inconsistent" sx={{ mt: 1.5 }}>
          <Typography variant="h3">What does not agree with itself</Typography>
          <Box component="ul" sx={{ pl: 2.5, my: 0.5 }}>
            {inconsistent.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </Box>
        </Box>
      )}
      <Button variant="contained" sx={{ mt: 1.5 }} onClick={onAdopt}>
        Build the plan from the drawing
      </Button>
    </>
  );
}
