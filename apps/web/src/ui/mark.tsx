/** Sobrin's mark: a cabin on its rope. */
export const Mark = ({ size }: { size: number }) => (
  <svg
    width={size}
    height={size}
    viewBox="0 0 32 32"
    fill="none"
    stroke="var(--spruce)"
    strokeWidth={2.4}
    strokeLinecap="round"
    strokeLinejoin="round"
    aria-hidden
  >
    <path d="M3 22 29 7M17 14v4M12 18h11a2 2 0 0 1 2 2v3a3 3 0 0 1-3 3h-9a3 3 0 0 1-3-3v-3a2 2 0 0 1 2-2z" />
    <circle cx={5} cy={21} r={2.2} fill="var(--spruce)" />
    <circle cx={27} cy={8} r={2.2} fill="var(--spruce)" />
  </svg>
);
