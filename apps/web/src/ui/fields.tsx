import { Box, InputBase, Typography } from '@mui/material';
import { type KeyboardEvent, type ReactNode, useId, useState } from 'react';
import { goBack } from './focus/keeper';

/** A label at the left, what belongs to it at the right: the rows of the inspector. */
export function Row({ label, children, narrow = false }: { label: string; children: ReactNode; narrow?: boolean }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: `${narrow ? 48 : 88}px minmax(0, 1fr)`,
        columnGap: 1,
        alignItems: 'start',
        py: '2px',
      }}
    >
      <Typography component="span" sx={{ color: 'var(--ink2)', lineHeight: '28px' }}>
        {label}
      </Typography>
      <Box sx={{ minWidth: 0, lineHeight: '28px' }}>{children}</Box>
    </Box>
  );
}

export interface TextInputProps {
  value: string;
  onCommit: (text: string) => void;
  label: string;
  id?: string;
  mono?: boolean;
  placeholder?: string;
  maxLength?: number;
  multiline?: boolean;
  /** What is wrong with a text, as a sentence; it is shown while typing and never blocks. */
  check?: (text: string) => string | null;
  /** What is wrong cannot be kept in the document: it stays in the field until it is mended. */
  strict?: boolean;
  /** What is unlikely to be meant; it is kept all the same. */
  warning?: (text: string) => string | null;
  autoFocus?: boolean;
  disabled?: boolean;
  /** Words to choose from while typing; any other may be typed. */
  suggestions?: readonly string[];
  /** The field was left, or Enter pressed in it, without a change. */
  onLeave?: () => void;
  /** Enter was pressed where there was nothing to take over. */
  onEnter?: () => void;
  /** The row of the grid it stands in as one of several: what is wrong with it then stands beneath the whole line. */
  gridRow?: number;
  /** Tells what is typed so far. */
  onDraft?: (text: string) => void;
}

/** Escape in a field of a page leaves it, so that keys are keys again; it is no more than that. */
export function leaveField(event: KeyboardEvent<HTMLElement>): void {
  if (event.currentTarget.closest('[role=dialog]')) return;
  event.stopPropagation();
  goBack(event.currentTarget);
}

/** A text that is taken over on Enter or on leaving the field; Escape brings the old one back. */
export function TextInput({
  value,
  onCommit,
  label,
  id,
  mono,
  placeholder,
  maxLength = 200,
  multiline,
  check,
  strict = false,
  warning,
  autoFocus,
  disabled,
  suggestions,
  onDraft,
  onLeave,
  onEnter,
  gridRow,
}: TextInputProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const helpId = useId();
  const listId = useId();
  const text = draft ?? value;
  // What is too long is said, never cut: who pastes a text does not see its end.
  const tooLong =
    text.length > maxLength
      ? `${text.length} characters: at most ${maxLength} are taken. Shorten it, it is not saved yet.`
      : null;
  const problem = tooLong ?? (text.trim() === '' ? null : (check?.(multiline ? text : text.trim()) ?? null));
  const warned = problem === null && text.trim() !== '' ? (warning?.(text.trim()) ?? null) : null;
  const commit = (): void => {
    if (tooLong || (strict && problem)) return;
    // White space around a text comes from pasting and is never meant; inside it stays, and is named by who reads it.
    const taken = multiline ? draft : (draft?.trim() ?? null);
    if (taken !== null && taken !== value) onCommit(taken);
    else onLeave?.();
    setDraft(null);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement | HTMLTextAreaElement>): void => {
    // Where there is something to take back, Escape takes it back; then it leaves the field.
    if (event.key === 'Escape' && draft !== null && draft !== value) {
      event.stopPropagation();
      setDraft(null);
      onDraft?.(value);
    } else if (event.key === 'Escape') leaveField(event);
    if (event.key !== 'Enter' || multiline) return;
    if (draft === null || draft === value) onEnter?.();
    commit();
  };
  return (
    // One element, so that what is wrong stands under its field in whatever grid or row the field stands.
    <Box sx={gridRow === undefined ? { minWidth: 0, width: '100%' } : { display: 'contents' }}>
      <InputBase
        fullWidth
        id={id}
        value={text}
        multiline={multiline ?? false}
        disabled={disabled ?? false}
        {...(multiline && { minRows: 2, maxRows: 8 })}
        placeholder={placeholder}
        onChange={(event) => {
          setDraft(event.target.value);
          onDraft?.(event.target.value);
        }}
        onBlur={commit}
        onKeyDown={onKeyDown}
        autoFocus={autoFocus ?? false}
        inputProps={{
          'aria-label': label,
          'aria-invalid': problem !== null,
          'aria-describedby': (problem ?? warned) ? helpId : undefined,
          spellCheck: !mono,
          ...(suggestions?.length && { list: listId }),
        }}
        className={mono ? 'mono' : ''}
        sx={{
          fontSize: mono ? 12.5 : 13,
          fontFamily: mono ? 'var(--mono)' : undefined,
          border: '1px solid',
          borderColor: problem ? 'var(--brick)' : 'var(--line2)',
          borderRadius: '6px',
          background: 'var(--surface)',
          px: 1,
          minHeight: 28,
          minWidth: 0,
          gridRow,
          '& input': { p: 0, height: 26 },
          '&:hover': { borderColor: problem ? 'var(--brick)' : 'var(--ink3)' },
          '&.Mui-focused': {
            borderColor: problem ? 'var(--brick)' : 'var(--spruce)',
            boxShadow: '0 0 0 1px var(--spruce)',
          },
        }}
      />
      {suggestions && suggestions.length > 0 && (
        <datalist id={listId}>
          {suggestions.map((suggestion) => (
            <option key={suggestion} value={suggestion} />
          ))}
        </datalist>
      )}
      {(problem ?? warned) && (
        <Typography
          id={helpId}
          variant="body2"
          sx={{
            color: problem ? 'var(--brick)' : 'var(--ochre-text)',
            pt: '2px',
            pb: '4px',
            ...(gridRow !== undefined && { gridColumn: '1 / -1' }),
          }}
        >
          {problem ?? warned}
        </Typography>
      )}
    </Box>
  );
}

/** A choice among a few words, looking like the text inputs beside it. */
export function Choice<T extends string>({
  value,
  options,
  onChange,
  label,
  id,
  disabled,
}: {
  value: T;
  options: readonly { value: T; text: string; disabled?: boolean }[];
  onChange: (value: T) => void;
  label: string;
  id?: string;
  disabled?: boolean;
}) {
  return (
    <Box
      component="select"
      id={id}
      aria-label={label}
      value={value}
      disabled={disabled}
      onChange={(event: { target: { value: string } }) => onChange(event.target.value as T)}
      onKeyDown={(event: KeyboardEvent<HTMLSelectElement>) => {
        if (event.key === 'Escape') leaveField(event);
      }}
      sx={{
        width: '100%',
        height: 28,
        font: 'inherit',
        fontSize: 13,
        color: 'var(--ink)',
        background: 'var(--surface)',
        border: '1px solid var(--line2)',
        borderRadius: '6px',
        px: '4px',
        '&:hover': { borderColor: 'var(--line2)' },
      }}
    >
      {options.map((choice) => (
        <option key={choice.value} value={choice.value} disabled={choice.disabled}>
          {choice.text}
        </option>
      ))}
    </Box>
  );
}
