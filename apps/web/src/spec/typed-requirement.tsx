import { Autocomplete, Box, InputBase } from '@mui/material';
import { type TypedRule, rulesTyped } from '@sobrin/core/spec';
import { useMemo, useState } from 'react';
import { goBack } from '../ui/focus/keeper';
import { points } from '../ui/words';
import { type SpecWords } from './spec-words';

/** A requirement by typing what must hold: sentences that it may mean are offered, Enter takes the first. */
export function TypedRequirement({
  section,
  words,
  onAdd,
}: {
  /** Its title. */
  section: string;
  words: SpecWords;
  onAdd: (typed: TypedRule) => void;
}) {
  const [text, setText] = useState('');
  const { names, refs, sites, groups, tasks, blocks } = words;
  const found = useMemo(
    () => (text.trim() ? rulesTyped(text, { names, refs, sites, groups, tasks, blocks }) : []),
    [text, names, refs, sites, groups, tasks, blocks],
  );
  const isUnknown = text.trim() !== '' && found.length === 0;
  return (
    <Autocomplete<TypedRule, false, false, true>
      freeSolo
      autoHighlight
      clearOnBlur={false}
      open={found.length > 0}
      options={found}
      filterOptions={(all) => all}
      getOptionKey={(option) => (typeof option === 'string' ? option : option.sentence)}
      getOptionLabel={(option) => (typeof option === 'string' ? option : option.sentence)}
      inputValue={text}
      value={null}
      onInputChange={(_event, value, reason) => reason === 'input' && setText(value)}
      onChange={(_event, option) => {
        // What was typed is taken by its likeliest sentence, where none is gone to.
        const chosen = typeof option === 'string' ? found[0] : option;
        if (!chosen) return;
        onAdd(chosen);
        setText('');
      }}
      slotProps={{ paper: { sx: { border: '1px solid var(--line2)' } } }}
      sx={{ flex: 1, minWidth: 0 }}
      renderOption={({ key, ...props }, option) => (
        <Box component="li" key={key} {...props} sx={{ display: 'flex', gap: 1, py: 0.5 }}>
          <span style={{ flex: 1 }}>{option.sentence}</span>
          {option.points !== undefined && (
            <span className="mono" style={{ color: 'var(--ink2)' }}>
              {points(option.points)}
              {option.bonus && ' bonus'}
            </span>
          )}
        </Box>
      )}
      renderInput={({ slotProps: { input, htmlInput } }) => (
        <Box ref={input.ref}>
          <InputBase
            fullWidth
            placeholder="Type what must hold, as in “hosts can reach the gateway, 2 points”"
            inputProps={{
              ...htmlInput,
              'aria-label': `Type a requirement of ${section}`,
              'data-typed-requirement': '',
              'aria-describedby': isUnknown ? `unknown-${section}` : undefined,
            }}
            onKeyDown={(event) => {
              if (event.key !== 'Escape') return;
              event.stopPropagation();
              if (text) setText('');
              else goBack(event.currentTarget);
            }}
            sx={{ fontSize: 13, '& input::placeholder': { color: 'var(--ink2)', opacity: 1 } }}
          />
          {isUnknown && (
            <Box id={`unknown-${section}`} role="status" sx={{ fontSize: 12, color: 'var(--ochre-text)', pb: 0.5 }}>
              No sentence has these words. Try what must be there, or who must reach whom; all kinds are a click beside.
            </Box>
          )}
        </Box>
      )}
    />
  );
}
