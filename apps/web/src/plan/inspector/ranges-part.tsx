import { Box, Button, IconButton, Tooltip, Typography } from '@mui/material';
import { IconPlus, IconX } from '@tabler/icons-react';
import { formatAddress, formatRange, parseRange } from '@sobrin/core/address';
import { type PlanNode, type RangeUse, RANGE_USES, rangesIn } from '@sobrin/core/plan';
import { useState } from 'react';
import { Choice, TextInput } from '../../ui/fields';
import { Part } from '../../ui/sections';
import { RANGE_WORDS } from '../plan-tree-table';
import { usePlan, usePlanFacts } from '../use-plan';

const problem = (text: string): string | null => {
  const read = parseRange(text);
  return read.ok ? null : read.error.text;
};

/** Ranges set aside in a subnet: for equipment, a DHCP pool, printers. */
export function RangesPart({ node, newId }: { node: PlanNode; newId: () => string }) {
  const ranges = usePlanFacts((facts) => facts.ranges);
  const run = usePlan((state) => state.do);
  const [text, setText] = useState('');
  const [use, setUse] = useState<RangeUse>('pool');
  const own = ([4, 6] as const).flatMap((family) => (node.space[family] ? rangesIn(ranges, node.space[family]) : []));
  const add = (): void => {
    const read = parseRange(text);
    if (!read.ok) return;
    const { from, to } = read.value;
    if (
      run('set a range aside', {
        kind: 'setRange',
        id: newId(),
        set: { from: formatAddress(from), to: formatAddress(to), use },
      })
    )
      setText('');
  };
  return (
    <Part title="Set aside" aside={own.length ? undefined : 'nothing yet'}>
      {own.map(({ id, range, span }) => (
        <Box
          key={id}
          sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto 28px', alignItems: 'center', gap: 0.75 }}
        >
          <span
            className="mono"
            style={{ fontSize: 12, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            title={formatRange(span)}
          >
            {formatRange(span)}
          </span>
          <Typography variant="body2" color="text.secondary">
            {RANGE_WORDS[range.use]}
          </Typography>
          <Tooltip title="Free it">
            <IconButton
              size="small"
              aria-label={`Free ${formatRange(span)}`}
              onClick={() => run('free a range', { kind: 'setRange', id, set: null })}
            >
              <IconX size={14} />
            </IconButton>
          </Tooltip>
        </Box>
      ))}
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
        sx={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 1fr) 104px auto',
          gap: 0.75,
          alignItems: 'start',
          mt: 0.5,
        }}
      >
        <div>
          <TextInput
            label="Range to set aside"
            mono
            maxLength={100}
            placeholder="from - to"
            value={text}
            check={problem}
            onDraft={setText}
            onCommit={setText}
          />
        </div>
        <Choice
          label="Set aside for"
          value={use}
          options={RANGE_USES.map((value) => ({ value, text: RANGE_WORDS[value] }))}
          onChange={setUse}
        />
        <Button
          type="submit"
          size="small"
          variant="outlined"
          aria-label="Set it aside"
          sx={{ minWidth: 0, minHeight: 30, px: 1 }}
        >
          <IconPlus size={15} />
        </Button>
      </Box>
    </Part>
  );
}
