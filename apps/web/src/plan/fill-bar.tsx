import { Box } from '@mui/material';
import { type Fill } from '@sobrin/core';

/** How full a block is; of a subnet also what is set aside, and where the later number of its group will be. */
export function FillBar({ fill, later }: { fill: Fill; later?: number | undefined }) {
  const share = (part: bigint): number =>
    fill.of === 0n ? 0 : Math.min(100, Number((part * 10_000n) / fill.of) / 100);
  const [taken, reserved] = [share(fill.taken), share(fill.reserved)];
  const mark = later === undefined ? null : share(BigInt(later));
  return (
    <Box
      aria-hidden
      sx={{
        position: 'relative',
        height: 9,
        borderRadius: '3px',
        border: '1px solid var(--line2)',
        background: 'var(--sunk)',
      }}
    >
      <Box
        sx={{
          position: 'absolute',
          inset: 0,
          right: 'auto',
          width: `${taken}%`,
          background: 'var(--spruce)',
          borderRadius: '2px',
        }}
      />
      <Box
        sx={{
          position: 'absolute',
          left: `${taken}%`,
          top: 0,
          bottom: 0,
          width: `${Math.min(reserved, 100 - taken)}%`,
          background: 'repeating-linear-gradient(135deg, var(--spruce) 0 2px, transparent 2px 5px)',
        }}
      />
      {mark !== null && (
        <Box
          sx={{
            position: 'absolute',
            left: `calc(${mark}% - 1px)`,
            top: -3,
            bottom: -3,
            width: 2,
            background: 'var(--ink)',
          }}
        />
      )}
    </Box>
  );
}
