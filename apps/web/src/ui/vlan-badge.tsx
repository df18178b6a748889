import './vlan-badge.css';

/** A VLAN's number on its tone; the tone never stands alone. */
export const VlanBadge = ({ vlan, tone }: { vlan: number; tone: number | null }) => (
  <span
    className="mono vlan-badge"
    role="img"
    aria-label={`VLAN ${vlan}`}
    style={{ background: `var(--vlan-${tone ?? 7})`, color: `var(--on-vlan-${tone ?? 7})` }}
  >
    {vlan}
  </span>
);
