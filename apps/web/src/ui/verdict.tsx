import { type Verdict } from '@sobrin/core/spec';

const WORDS: Record<Verdict, string> = {
  met: 'met',
  partly: 'partly met',
  lost: 'not met',
  unjudged: 'for a person to decide',
  notApplying: 'does not apply',
};

/** The verdict of a requirement: a check, a half, a cross, a question; a shape first, a colour second. */
export function VerdictSign({
  verdict,
  size = 18,
  title,
  silent = false,
}: {
  verdict: Verdict;
  size?: number;
  title?: string;
  /** Where words beside it, or around it, say the same. */
  silent?: boolean;
}) {
  const words = title ?? WORDS[verdict];
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 18 18"
      {...(silent ? { 'aria-hidden': true } : { role: 'img', 'aria-label': words })}
      style={{ flex: 'none' }}
    >
      {!silent && <title>{words}</title>}
      {verdict === 'met' && (
        <>
          <circle cx={9} cy={9} r={8} fill="var(--spruce)" />
          <path
            d="m5.4 9.2 2.5 2.5 4.8-5.2"
            fill="none"
            stroke="var(--on-spruce)"
            strokeWidth={2}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        </>
      )}
      {verdict === 'partly' && (
        <>
          <circle cx={9} cy={9} r={7.2} fill="none" stroke="var(--ochre-text)" strokeWidth={1.6} />
          <path d="M9 1.8a7.2 7.2 0 0 0 0 14.4z" fill="var(--ochre-text)" />
        </>
      )}
      {verdict === 'lost' && (
        <>
          <rect
            x={1.6}
            y={1.6}
            width={14.8}
            height={14.8}
            rx={4}
            fill="var(--brick-tint)"
            stroke="var(--brick)"
            strokeWidth={1.5}
          />
          <path d="M6 6 12 12M12 6 6 12" stroke="var(--brick)" strokeWidth={2} strokeLinecap="round" />
        </>
      )}
      {verdict === 'unjudged' && (
        <>
          <circle cx={9} cy={9} r={7.2} fill="var(--plum-tint)" stroke="var(--plum)" strokeWidth={1.6} />
          <text x={9} y={13} textAnchor="middle" fontSize={11} fontWeight={700} fill="var(--plum)">
            ?
          </text>
        </>
      )}
      {verdict === 'notApplying' && (
        <>
          <circle cx={9} cy={9} r={7.2} fill="none" stroke="var(--ink3)" strokeWidth={1.6} strokeDasharray="3 2.6" />
          <path d="M5.6 9h6.8" stroke="var(--ink2)" strokeWidth={2} strokeLinecap="round" />
        </>
      )}
    </svg>
  );
}
