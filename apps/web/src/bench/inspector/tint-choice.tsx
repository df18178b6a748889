import { Choice } from '../../ui/fields';

/** What the eight tones are called. */
const TINTS = ['blue', 'orange', 'green', 'rose', 'sky', 'amber', 'grey', 'violet'] as const;
const MIXED = 'mixed';

/** The tint of a device, of several, or of a link beside its word. `now` is undefined for none, null for different ones. */
export const TintChoice = ({
  label,
  now,
  disabled = false,
  onChange,
}: {
  label: string;
  now: number | undefined | null;
  disabled?: boolean;
  onChange: (tint: number | null) => void;
}) => (
  <Choice
    label={label}
    value={now === null ? MIXED : now === undefined ? '' : String(now)}
    disabled={disabled}
    options={[
      ...(now === null ? [{ value: MIXED, text: 'different ones' }] : []),
      { value: '', text: 'none' },
      ...TINTS.map((text, at) => ({ value: String(at + 1), text })),
    ]}
    onChange={(tint) => tint !== MIXED && onChange(tint === '' ? null : Number(tint))}
  />
);
