import { Box } from '@mui/material';

/** A VLAN's number on its tone; the tone never stands alone. */
export function VlanBadge({ vlan, tone }: { vlan: number; tone: number | null }) {
  return (
    <Box
      component="span"
      className="mono"
      aria-label={`VLAN ${vlan}`}
      sx={{
        display: 'inline-block',
        minWidth: 26,
        px: '4px',
        lineHeight: '17px',
        borderRadius: '4px',
        textAlign: 'center',
        fontSize: 11,
        fontWeight: 700,
        background: `var(--vlan-${tone ?? 7})`,
        color: `var(--on-vlan-${tone ?? 7})`,
      }}
    >
      {vlan}
    </Box>
  );
}
