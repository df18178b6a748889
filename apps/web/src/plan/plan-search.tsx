import { InputBase } from '@mui/material';
import { type RefObject } from 'react';
import { goBack } from '../ui/focus/keeper';

/** Finds blocks and addresses by name, prefix or address. */
export function PlanSearch({
  field,
  value,
  onChange,
}: {
  field: RefObject<HTMLInputElement | null>;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <InputBase
      inputRef={field}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.preventDefault();
          if (value) onChange('');
          else goBack(event.target as HTMLElement);
        }
      }}
      placeholder="Find ( / )"
      inputProps={{ 'aria-label': 'Find in the plan' }}
      sx={{
        flex: '0 1 190px',
        minWidth: 120,
        fontSize: 13,
        border: '1px solid var(--line2)',
        borderRadius: '6px',
        px: 1,
        height: 28,
        background: 'var(--surface)',
      }}
    />
  );
}
