export const initialsOf = (name: string): string =>
  name
    .split(' ')
    .map((part) => part.charAt(0))
    .slice(0, 2)
    .join('')
    .toUpperCase();

/** Somebody as a round sign; without a label where the name is said beside it. */
export function Initials({ name, label, size = 28 }: { name: string; label?: string; size?: number }) {
  return (
    <span
      role={label === undefined ? undefined : 'img'}
      aria-label={label}
      aria-hidden={label === undefined}
      style={{
        width: size,
        height: size,
        borderRadius: size / 2,
        display: 'grid',
        placeItems: 'center',
        fontSize: 11,
        fontWeight: 700,
        background: 'var(--plum-tint)',
        color: 'var(--plum)',
      }}
    >
      {initialsOf(name)}
    </span>
  );
}
