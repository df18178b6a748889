import { TextField } from '@mui/material';

/** Where a code of the second factor is typed. */
export function CodeField({ value, onChange }: { value: string; onChange: (text: string) => void }) {
  return (
    <TextField
      autoFocus
      label="Code"
      autoComplete="one-time-code"
      value={value}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ htmlInput: { maxLength: 20, inputMode: 'text', className: 'mono' } }}
    />
  );
}
