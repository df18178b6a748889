import { type LinkFact } from '../../workers/facts';

/** The same forms as the chips of the drawing: filled, hollow, crossed; dashed for a free port. */
export function ChipSign({ fact, connected }: { fact: LinkFact | undefined; connected: boolean }) {
  const state = fact?.state;
  const colour = state === 'up' ? 'var(--spruce)' : state === 'crossed' ? 'var(--brick)' : 'var(--ink2)';
  return (
    <svg
      width={12}
      height={12}
      viewBox="0 0 12 12"
      role="img"
      aria-label={
        !connected
          ? 'free'
          : state === 'up'
            ? 'passes traffic'
            : state === 'crossed'
              ? 'wrong cable'
              : state === 'down'
                ? 'down'
                : 'connected'
      }
    >
      <rect
        x={1.75}
        y={1.75}
        width={8.5}
        height={8.5}
        rx={2.5}
        fill={state === 'up' ? colour : 'none'}
        stroke={connected ? colour : 'var(--ink3)'}
        strokeWidth={1.5}
        strokeDasharray={connected ? undefined : '2 2'}
      />
      {state === 'crossed' && <path d="M1 1 11 11M11 1 1 11" stroke={colour} strokeWidth={1.75} />}
    </svg>
  );
}
