/** The letter of a cause; a square, so that it is no verdict. */
export const CauseSign = ({ letter, isChosen = false }: { letter: string; isChosen?: boolean }) => (
  <span
    className="mono"
    style={{
      flex: 'none',
      minWidth: 20,
      height: 20,
      lineHeight: '20px',
      borderRadius: 5,
      textAlign: 'center',
      fontSize: 13,
      fontWeight: 700,
      background: 'var(--brick)',
      color: 'var(--surface)',
      outline: isChosen ? '2px solid var(--brick)' : undefined,
      outlineOffset: 2,
    }}
  >
    {letter}
  </span>
);
