import { Box, Popover, Typography } from '@mui/material';
import { IconListDetails } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import { type CheckResult, type Penalty, type MarkLine, markLines } from '@sobrin/core/spec';
import { useState } from 'react';
import { IconTool } from '../ui/icon-tool';
import { counted } from '../ui/mark-words';
import { points } from '../ui/words';

const WORDS: Readonly<Record<MarkLine['what'], (count: number) => string>> = {
  requirements: (count) => `${plural(count, 'requirement')}, as judged`,
  followThrough: (count) => `given back, ${plural(count, 'mistake')} counted once`,
  decisions: (count) => `${plural(count, 'requirement')} decided by a person`,
  deductions: (count) => `taken off, for ${count} found`,
  bonus: (count) => `bonus, of ${plural(count, 'requirement')}`,
  sections: () => 'no section goes below 0',
  rounding: () => 'rounded',
  hints: (count) => `${plural(count, 'hint')} asked for`,
  late: (count) => `late by ${plural(count, 'begun day')}`,
};

/** The mark, and how it comes about, step by step. */
export function MarkWithSteps({ result, penalty }: { result: CheckResult; penalty: Penalty | null }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const mark = counted({ points: result.points, penalty });
  return (
    <>
      <Typography
        className="mono"
        aria-label={`Mark ${points(mark)} of ${points(result.of)}`}
        sx={{ fontSize: 23, fontWeight: 700, whiteSpace: 'nowrap' }}
      >
        {points(mark)} <span style={{ fontSize: 15, color: 'var(--ink2)' }}>/ {points(result.of)}</span>
      </Typography>
      <IconTool title="How the mark comes about" onClick={({ currentTarget }) => setAnchor(currentTarget)}>
        <IconListDetails size={16} />
      </IconTool>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'How the mark comes about', sx: { p: 2 } } }}
      >
        <Box component="table" sx={{ borderCollapse: 'collapse', '& td': { py: '3px' } }}>
          <tbody>
            {markLines(result, penalty).map(({ what, points: own, count = 0 }, at) => (
              <tr key={what}>
                <td style={{ paddingRight: 24 }}>{WORDS[what](count)}</td>
                <td className="mono" style={{ textAlign: 'right' }}>
                  {own < 0 ? '−' : at ? '+' : ''}
                  {points(Math.abs(own))}
                </td>
              </tr>
            ))}
            <Box component="tr" sx={{ '& td': { borderTop: '1px solid var(--line2)', fontWeight: 700 } }}>
              <td>mark</td>
              <td className="mono" style={{ textAlign: 'right' }}>
                {points(mark)} of {points(result.of)}
              </td>
            </Box>
          </tbody>
        </Box>
      </Popover>
    </>
  );
}
