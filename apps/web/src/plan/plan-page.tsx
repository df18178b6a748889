import { Box, Button, IconButton, Stack, Tooltip, Typography } from '@mui/material';
import { IconPlus, IconX } from '@tabler/icons-react';
import { type Plan, parsePrefix, usableCount } from '@sobrin/core';
import { useChangeLab } from '../api/queries';
import { useShownLab } from '../lab/lab-shell';
import { Choice, TextInput } from '../ui/fields';
import { Empty, Failure, TopBar } from '../ui/parts';
import { planRows, type PlanRow } from './plan-tree';

type Block = Plan['blocks'][string];
const STANDINGS = [
  { value: 'proposed', text: 'proposed' },
  { value: 'decided', text: 'decided' },
  { value: 'kept-free', text: 'kept free' },
] as const;
const COLUMNS = 'minmax(0, 1fr) 180px 110px 72px 120px 28px';

/** The address plan as a table of blocks, from the root block down to the subnets. */
export function PlanPage() {
  const lab = useShownLab();
  const change = useChangeLab(lab);
  const rows = planRows(lab.plan);
  const set = (id: string, block: Block | null): void => {
    const { [id]: _old, ...others } = lab.plan.blocks;
    change.mutate({ plan: { ...lab.plan, blocks: block ? { ...lab.plan.blocks, [id]: block } : others } });
  };
  const add = (): void => {
    let at = rows.length + 1;
    while (`block${at}` in lab.plan.blocks) at++;
    set(`block${at}`, { prefix: '', name: 'New block', standing: 'proposed' });
  };
  return (
    <>
      <TopBar title={lab.title} under={`${lab.courseTitle} · plan`}>
        <Button variant="contained" startIcon={<IconPlus size={16} />} onClick={add}>
          Add a block
        </Button>
      </TopBar>
      <Box sx={{ flex: 1, overflow: 'auto', p: 2 }}>
        <Stack spacing={2} sx={{ maxWidth: 960, mx: 'auto' }}>
          {change.isError && <Failure error={change.error} />}
          {rows.length === 0 ? (
            <Empty
              title="No address plan yet"
              action={
                <Button variant="contained" onClick={add}>
                  Add the root block
                </Button>
              }
            >
              Begin with the block that the whole lab lives in, then the blocks of its sites, then the subnets.
            </Empty>
          ) : (
            <Box
              role="table"
              aria-label="Blocks"
              sx={{
                border: '1px solid var(--line)',
                borderRadius: '12px',
                background: 'var(--surface)',
                px: 1.5,
                py: 1,
              }}
            >
              <Box
                role="row"
                sx={{
                  display: 'grid',
                  gridTemplateColumns: COLUMNS,
                  gap: 1,
                  fontSize: 12,
                  fontWeight: 650,
                  color: 'var(--ink2)',
                  pb: 0.5,
                }}
              >
                {['Block', 'Prefix', 'Usable', 'VLAN', 'Standing', ''].map((one, at) => (
                  <span role="columnheader" key={at} style={at === 2 ? { textAlign: 'right' } : undefined}>
                    {one}
                  </span>
                ))}
              </Box>
              {rows.map((row) => (
                <BlockRow key={row.id} row={row} onChange={(block) => set(row.id, block)} />
              ))}
            </Box>
          )}
        </Stack>
      </Box>
    </>
  );
}

const vlanProblem = (text: string): string | null =>
  /^\d{1,4}$/.test(text) && Number(text) >= 1 && Number(text) <= 4094 ? null : '1 to 4094';

function BlockRow({
  row: { block, depth, problem },
  onChange,
}: {
  row: PlanRow;
  onChange: (block: Block | null) => void;
}) {
  const read = parsePrefix(block.prefix);
  const { vlan: _vlan, ...withoutVlan } = block;
  return (
    <Box role="row" sx={{ borderTop: '1px solid var(--line)', py: '3px' }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: COLUMNS, gap: 1, alignItems: 'start' }}>
        <Box role="cell" sx={{ pl: depth * 2.5, '& .MuiInputBase-root': { fontWeight: depth < 2 ? 700 : 400 } }}>
          <TextInput
            label="Name of the block"
            value={block.name}
            maxLength={80}
            onCommit={(name) => onChange({ ...block, name })}
          />
        </Box>
        <div role="cell">
          <TextInput
            label={`Prefix of ${block.name}`}
            mono
            value={block.prefix}
            maxLength={64}
            onCommit={(prefix) => onChange({ ...block, prefix })}
          />
        </div>
        <Typography role="cell" className="mono" sx={{ lineHeight: '28px', textAlign: 'right', color: 'var(--ink2)' }}>
          {read.ok ? usableCount(read.value).toLocaleString('en').replaceAll(',', ' ').slice(0, 12) : ''}
        </Typography>
        <div role="cell">
          <TextInput
            label={`VLAN of ${block.name}`}
            mono
            value={block.vlan === undefined ? '' : String(block.vlan)}
            check={vlanProblem}
            onCommit={(text) =>
              text === ''
                ? onChange(withoutVlan)
                : vlanProblem(text) === null && onChange({ ...block, vlan: Number(text) })
            }
          />
        </div>
        <div role="cell">
          <Choice
            label={`Standing of ${block.name}`}
            value={block.standing ?? 'proposed'}
            options={STANDINGS}
            onChange={(standing) => onChange({ ...block, standing })}
          />
        </div>
        <div role="cell">
          <Tooltip title="Remove">
            <IconButton size="small" aria-label={`Remove ${block.name}`} onClick={() => onChange(null)}>
              <IconX size={15} />
            </IconButton>
          </Tooltip>
        </div>
      </Box>
      {problem && (
        <Typography variant="body2" sx={{ color: 'var(--brick)', pl: depth * 2.5 }}>
          {problem}
        </Typography>
      )}
    </Box>
  );
}
