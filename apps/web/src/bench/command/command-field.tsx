import { Autocomplete, Box, InputBase } from '@mui/material';
import {
  IconAdjustments,
  IconArrowsMove,
  IconAt,
  IconCornerDownLeft,
  IconCursorText,
  IconInfoCircle,
  IconLayoutAlignLeft,
  IconLine,
  IconPencil,
  IconPlus,
  IconKey,
  IconRoute,
  IconSearch,
  IconTarget,
} from '@tabler/icons-react';
import { type Completion, type FieldContext, completions } from '@sobrin/core/bench';
import { type KeyboardEvent, useMemo, useState } from 'react';
import { useHistory } from './field-history';
import { goBack, goToOutcome } from '../../ui/focus/keeper';
import { Key } from '../../ui/keys/key';

const SIGNS = {
  add: IconPlus,
  link: IconLine,
  jump: IconTarget,
  find: IconSearch,
  rename: IconPencil,
  arrange: IconLayoutAlignLeft,
  address: IconAt,
  trace: IconRoute,
  'sign-in': IconKey,
  set: IconAdjustments,
  menu: IconArrowsMove,
  word: IconCursorText,
  none: IconInfoCircle,
} satisfies Record<Completion['sign'], unknown>;
export const COMMAND_FIELD_ID = 'command-field';

/**
 * One field to add, link, find and do: what a text can mean stands under it, each line with what it will do. Enter takes
 * the marked line, Tab only completes the text, the up arrow in an empty field brings back what was done before.
 */
export function CommandField({
  context,
  onTake,
}: {
  context: FieldContext;
  /** Does what a line says; false where it could not be done, and then the text stays. */
  onTake: (completion: Completion) => boolean;
}) {
  const [text, setText] = useState('');
  const [open, setOpen] = useState(false);
  const [marked, setMarked] = useState<Completion | null>(null);
  const history = useHistory();
  const lines = useMemo(() => (open ? completions(text, context) : []), [open, text, context]);
  const fill = (next: string): void => {
    setText(next);
    setOpen(true);
  };
  const take = (line: Completion | null): void => {
    if (!line?.action) return;
    if (line.action.do === 'fill') return fill(line.fill);
    if (!onTake(line)) return;
    history.keep(line.fill || text);
    setText('');
    setOpen(false);
    goToOutcome();
  };
  const onKeyDown = (event: KeyboardEvent & { defaultMuiPrevented?: boolean }): void => {
    const past = event.key === 'ArrowUp' && (text === '' || history.isPast(text)) ? history.before(text) : undefined;
    if (past !== undefined) {
      event.defaultMuiPrevented = true;
      event.preventDefault();
      fill(past);
    }
    const line = marked ?? lines[0];
    if (event.key === 'Tab' && !event.shiftKey && text && line?.fill && line.fill !== text) {
      event.defaultMuiPrevented = true;
      event.preventDefault();
      fill(line.fill);
    }
    if (event.key === 'Escape') {
      event.stopPropagation();
      setOpen(false);
      // What is typed stays, and is typed over when one comes back.
      goBack(event.target as HTMLElement);
    }
  };
  return (
    <Autocomplete<Completion, false, false, true>
      id={COMMAND_FIELD_ID}
      freeSolo
      autoHighlight
      clearOnBlur={false}
      options={lines}
      filterOptions={(all) => all}
      getOptionLabel={(completion) => (typeof completion === 'string' ? completion : completion.fill)}
      getOptionKey={(completion) => (typeof completion === 'string' ? completion : completion.id)}
      getOptionDisabled={(completion) => completion.action === null}
      value={null}
      inputValue={text}
      open={open && lines.length > 0}
      onOpen={() => setOpen(true)}
      onClose={(_event, why) => (why === 'blur' || why === 'escape') && setOpen(false)}
      onInputChange={(_event, next, why) => why === 'input' && fill(next)}
      onHighlightChange={(_event, completion) => setMarked(completion)}
      onChange={(_event, picked) => take(typeof picked === 'string' ? (lines[0] ?? null) : picked)}
      onFocus={(event) => {
        setOpen(true);
        if (event.target instanceof HTMLInputElement) event.target.select();
      }}
      sx={{ width: 400, minWidth: 120, flexShrink: 1 }}
      slotProps={{
        paper: { sx: { width: 480, maxWidth: 'calc(100vw - 96px)', mt: 0.5 } },
        listbox: { sx: { maxHeight: 360, p: 0.75 } },
      }}
      renderOption={({ key, ...props }, completion) => (
        <Box component="li" key={key} {...props} sx={{ gap: 1.25, borderRadius: '8px', minHeight: '34px !important' }}>
          <Line line={completion} />
        </Box>
      )}
      renderInput={({ slotProps }) => (
        <InputBase
          {...(slotProps as { input: object }).input}
          inputProps={{
            ...(slotProps as { htmlInput: object }).htmlInput,
            'aria-label': 'Command field',
            maxLength: 300,
            spellCheck: false,
          }}
          onKeyDown={onKeyDown}
          placeholder="Add, link, find, do"
          startAdornment={<IconSearch size={16} style={{ marginRight: 8, flex: 'none' }} aria-hidden />}
          endAdornment={text ? null : <Key id="command" keys="/" />}
          sx={{
            height: 36,
            width: '100%',
            px: 1.25,
            borderRadius: '10px',
            border: '1px solid var(--line2)',
            background: 'var(--surface)',
            fontSize: 14,
            '&.Mui-focused': { borderColor: 'var(--spruce)', outline: '1px solid var(--spruce)' },
          }}
        />
      )}
    />
  );
}

function Line({ line }: { line: Completion }) {
  const Sign = SIGNS[line.sign];
  return (
    <>
      <Sign size={16} stroke={1.6} style={{ flex: 'none' }} aria-hidden />
      <Box sx={{ minWidth: 0, flex: 1, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
        <b>{line.text}</b> <span style={{ color: 'var(--ink2)', fontSize: 12 }}>{line.more}</span>
      </Box>
      {line.action && line.action.do !== 'fill' && <IconCornerDownLeft size={14} stroke={1.6} aria-hidden />}
    </>
  );
}
