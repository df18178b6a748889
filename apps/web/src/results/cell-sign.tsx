import { type Verdict } from '@sobrin/core/spec';

/** A cell: filled, half filled, crossed, question; a shape first, a colour second. */
export function CellSign({ verdict }: { verdict: Verdict }) {
  return (
    <svg width={16} height={16} viewBox="0 0 16 16" aria-hidden>
      {verdict === 'met' && <rect width={16} height={16} rx={4} fill="var(--spruce)" />}
      {verdict === 'partly' && (
        <>
          <rect
            x={0.75}
            y={0.75}
            width={14.5}
            height={14.5}
            rx={3.5}
            fill="var(--surface)"
            stroke="var(--ochre-text)"
            strokeWidth={1.5}
          />
          <path d="M1 8h14v3.5a3.5 3.5 0 0 1-3.5 3.5h-7A3.5 3.5 0 0 1 1 11.5z" fill="var(--ochre-text)" />
        </>
      )}
      {verdict === 'lost' && (
        <>
          <rect
            x={0.75}
            y={0.75}
            width={14.5}
            height={14.5}
            rx={3.5}
            fill="var(--brick-tint)"
            stroke="var(--brick)"
            strokeWidth={1.5}
          />
          <path d="m5 5 6 6m0-6-6 6" stroke="var(--brick)" strokeWidth={1.6} strokeLinecap="round" />
        </>
      )}
      {verdict === 'unjudged' && (
        <>
          <rect
            x={0.75}
            y={0.75}
            width={14.5}
            height={14.5}
            rx={3.5}
            fill="var(--plum-tint)"
            stroke="var(--plum)"
            strokeWidth={1.5}
          />
          <text x={8} y={12} textAnchor="middle" fontSize={11} fontWeight={700} fill="var(--plum)">
            ?
          </text>
        </>
      )}
    </svg>
  );
}
