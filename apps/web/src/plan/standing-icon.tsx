import { Box } from '@mui/material';
import { type Standing, STANDINGS } from '@sobrin/core/plan';

export const STANDING_WORDS: Record<Standing, string> = {
  proposed: 'proposed',
  decided: 'decided',
  'kept-free': 'kept free',
  'being-vacated': 'being vacated',
};

/** The standings with their signs. */
export function StandingKey() {
  return (
    <Box
      aria-hidden
      sx={{
        display: 'flex',
        gap: 1.25,
        fontSize: 12,
        color: 'var(--ink2)',
        '& span': { display: 'flex', gap: '4px', alignItems: 'center' },
      }}
    >
      {STANDINGS.map((standing) => (
        <span key={standing}>
          <StandingIcon standing={standing} />
          {STANDING_WORDS[standing]}
        </span>
      ))}
    </Box>
  );
}

/** Decided is filled, proposed a dashed outline, kept free a square struck through, being vacated one that something leaves. */
export function StandingIcon({ standing, waiting = false }: { standing: Standing; waiting?: boolean }) {
  const word = waiting ? 'not confirmed by the server yet' : STANDING_WORDS[standing];
  return (
    <svg width={14} height={14} viewBox="0 0 14 14" role="img" aria-label={word}>
      <title>{word}</title>
      {waiting ? (
        <path d="M7 1.5v5.5l3.5 2M7 1.5a5.5 5.5 0 1 0 .01 0" fill="none" stroke="var(--ochre-text)" strokeWidth={1.5} />
      ) : standing === 'decided' ? (
        <rect x={2} y={2} width={10} height={10} rx={2.5} fill="var(--spruce)" />
      ) : (
        <>
          <rect
            x={2.5}
            y={2.5}
            width={9}
            height={9}
            rx={2.5}
            fill="none"
            stroke={standing === 'proposed' ? 'var(--ochre-text)' : 'var(--ink2)'}
            strokeWidth={1.5}
            strokeDasharray={standing === 'proposed' ? '2.6 2' : undefined}
          />
          {standing === 'being-vacated' && (
            <path d="M5 7h5M8 4.8 10.2 7 8 9.2" fill="none" stroke="var(--ink2)" strokeWidth={1.3} />
          )}
          {standing === 'kept-free' && <path d="M4 10 10 4" stroke="var(--ink2)" strokeWidth={1.5} />}
        </>
      )}
    </svg>
  );
}
