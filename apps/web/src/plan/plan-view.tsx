import { Box, Typography } from '@mui/material';
import {
  type Brief,
  type Plan,
  planProblems,
  planTree,
  problemsByBlock,
  readRanges,
  subnetNeeds,
  vlanTones,
} from '@sobrin/core/plan';
import { useMemo, useState } from 'react';
import { BlockMap } from './block-map';
import { planRows } from './plan-rows';
import { type PlanSelection, NOTHING } from './plan-store';
import { PlanTreeTable } from './plan-tree-table';
import { useOpened } from './use-opened';

const NONE: ReadonlySet<string> = new Set();

/** A plan that is only looked at, for instance one that was handed in: its map, its tree, and what is wrong in it. */
export function PlanView({ plan, brief, marked }: { plan: Plan; brief: Brief; marked: readonly string[] }) {
  const { tree, ranges, needs, problems, byBlock, toneOf } = useMemo(() => {
    const read = planTree(plan);
    const found = planProblems(plan, brief, read);
    return {
      tree: read,
      ranges: readRanges(read),
      needs: subnetNeeds(brief),
      problems: found,
      byBlock: problemsByBlock(found),
      toneOf: vlanTones(plan),
    };
  }, [plan, brief]);
  const [own, setOwn] = useState<PlanSelection>(NOTHING);
  const { closed, opened, toggle } = useOpened();
  // What the evidence points at is shown; looking elsewhere is up to the person.
  const selection = own.blocks.length ? own : { ...NOTHING, blocks: marked };
  const rows = useMemo(() => planRows(tree, ranges, { closed, opened, search: '' }), [tree, ranges, closed, opened]);
  const chosen = selection.blocks[0] ?? null;
  const shown = problems.filter((problem) => chosen === null || problem.at.block === chosen);
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <BlockMap tree={tree} chosen={chosen} onChoose={(id) => setOwn({ ...NOTHING, blocks: [id] })} />
      <PlanTreeTable
        tree={tree}
        rows={rows}
        ranges={ranges}
        needs={needs}
        brief={brief}
        problems={byBlock}
        toneOf={toneOf}
        selection={selection}
        waiting={NONE}
        onSelect={setOwn}
        onOpen={toggle}
      />
      <Box
        role="status"
        // Longer than its room, it is scrolled by keys.
        tabIndex={0}
        sx={{
          flex: 'none',
          maxHeight: 84,
          overflow: 'auto',
          px: 1.5,
          py: 0.75,
          borderTop: '1px solid var(--line)',
          background: 'var(--surface)',
        }}
      >
        {shown.length === 0 ? (
          <Typography color="text.secondary">
            {chosen === null
              ? 'Nothing is wrong in this plan by itself.'
              : 'Nothing is wrong with this block by itself.'}
          </Typography>
        ) : (
          shown.map((problem) => <Typography key={problem.text}>{problem.text}</Typography>)
        )}
      </Box>
    </Box>
  );
}
