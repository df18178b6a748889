import {
  Autocomplete,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  MenuList,
  Popover,
  type PopperProps,
  Stack,
  TextField,
} from '@mui/material';
import { parsePrefix } from '@sobrin/core/address';
import { ALL_GROUPS, ANY_SITE, type Slot } from '@sobrin/core/spec';
import { useState } from 'react';
import { type SpecWords } from './spec-words';

interface Props {
  text: string;
  value: unknown;
  slot: Slot;
  name: string;
  words: SpecWords;
  onChange: (value: unknown) => void;
}

/** A word of a sentence that can be chosen: it looks like the word it is, and opens to its choices. */
export function SlotWord(props: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [, joint, word] = /^([\s,]*)(.*)$/s.exec(props.text)!;
  return (
    <>
      {joint}
      <Box
        component="button"
        type="button"
        className="slot"
        onClick={(event) => setAnchor(event.currentTarget)}
        aria-haspopup="dialog"
        aria-label={`${word}, choose another`}
      >
        {word}
      </Box>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        {anchor && (
          <SlotChoice
            {...props}
            onClose={() => setAnchor(null)}
            onChange={(value) => {
              setAnchor(null);
              props.onChange(value);
            }}
          />
        )}
      </Popover>
    </>
  );
}

/** What a sentence leaves unsaid, since it is as usual: behind one sign at its end. */
export function MoreWords({
  label = 'Say more exactly',
  unsaid,
  words,
  onChange,
}: {
  label?: string;
  unsaid: readonly { name: string; slot: Slot }[];
  words: SpecWords;
  onChange: (property: string, value: unknown) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [open, setOpen] = useState<string | null>(null);
  const close = (): void => {
    setAnchor(null);
    setOpen(null);
  };
  const chosen = unsaid.length === 1 ? unsaid[0] : unsaid.find(({ name }) => name === open);
  return (
    <>
      <Box
        component="button"
        type="button"
        className="slot more"
        onClick={(event) => setAnchor(event.currentTarget)}
        aria-haspopup="dialog"
        aria-label={label}
        sx={{ ml: 0.5 }}
      >
        +
      </Box>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={close}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        {chosen ? (
          <SlotChoice
            slot={chosen.slot}
            value={undefined}
            text=""
            name={chosen.name}
            words={words}
            onClose={close}
            onChange={(value) => {
              close();
              onChange(chosen.name, value);
            }}
          />
        ) : (
          <List
            options={unsaid.map(({ name, slot }) => ({ value: name, text: ('title' in slot && slot.title) || name }))}
            chosen=""
            onChoose={setOpen}
          />
        )}
      </Popover>
    </>
  );
}

function SlotChoice({ slot, value, words, onChange, onClose }: Props & { onClose: () => void }) {
  switch (slot.type) {
    case 'choice':
      return (
        <List
          options={slot.options.map(({ value: each, text, choice }) => ({ value: each, text: choice ?? text }))}
          chosen={(value as string | undefined) ?? ''}
          onChoose={(chosen) => onChange(chosen === '' ? undefined : chosen)}
        />
      );
    case 'site':
      return (
        <List
          options={[
            { value: ANY_SITE, text: 'anywhere' },
            ...words.sites.map((site) => ({ value: site.id, text: site.name })),
          ]}
          chosen={value as string}
          onChoose={onChange}
        />
      );
    case 'group':
      return (
        <List
          options={[
            { value: ALL_GROUPS, text: 'every group' },
            ...words.groups.map((group) => ({ value: group.id, text: group.name })),
          ]}
          chosen={value as string}
          onChoose={onChange}
        />
      );
    case 'task':
      return (
        <List
          options={words.tasks.map(({ id }, at) => ({ value: id, text: `task ${at + 1}` }))}
          chosen={value as string}
          onChoose={onChange}
        />
      );
    case 'ref':
      return (
        <RefChoice words={words} value={(value as string | undefined) ?? ''} onChoose={onChange} onClose={onClose} />
      );
    case 'refs':
      return <RefsChoice words={words} value={(value as string[] | undefined) ?? []} onDone={onChange} />;
    case 'choices':
      return (
        <Several
          options={slot.options}
          value={(value as string[] | undefined) ?? []}
          mayBeNone={slot.mayBeNone ?? false}
          onDone={onChange}
        />
      );
    case 'number':
      return (
        <Typed
          value={String(value)}
          check={numberProblem(slot.min, slot.max)}
          onDone={(text) => onChange(Number(text))}
        />
      );
    case 'prefix':
      return (
        <>
          <Typed
            value={value as string}
            mono
            check={(text) => {
              const read = parsePrefix(text);
              return read.ok ? null : read.error.text;
            }}
            onDone={onChange}
          />
          {words.blocks.length > 0 && (
            <MenuList aria-label="Blocks of the plan" sx={{ maxHeight: 220, overflow: 'auto', pt: 0 }}>
              {words.blocks.map((block) => (
                <MenuItem key={block.prefix} dense onClick={() => onChange(block.prefix)}>
                  <span className="mono" style={{ width: 168 }}>
                    {block.prefix}
                  </span>
                  {block.name}
                </MenuItem>
              ))}
            </MenuList>
          )}
        </>
      );
    case 'text':
      return (
        <Typed
          value={value === undefined ? '' : (value as string | number).toString()}
          mono={!slot.isProse}
          {...(slot.isProse && { most: 500 })}
          {...(slot.empty !== undefined && { help: slot.empty })}
          check={(text) => (text === '' && slot.empty !== undefined ? null : slot.problem(text))}
          onDone={(text) =>
            onChange(text === '' && slot.empty !== undefined ? undefined : slot.isNumber ? Number(text) : text)
          }
        />
      );
  }
}

const numberProblem =
  (min: number, max: number) =>
  (text: string): string | null => {
    const number = Number(text);
    return /^\d+$/.test(text) && number >= min && number <= max
      ? null
      : `Wanted is a whole number from ${min} to ${max}.`;
  };

function List({
  options,
  chosen,
  onChoose,
}: {
  options: readonly { value: string; text: string }[];
  chosen: string;
  onChoose: (value: string) => void;
}) {
  return (
    <MenuList autoFocusItem sx={{ maxHeight: 320, overflow: 'auto' }}>
      {options.map((option) => (
        <MenuItem
          key={option.value}
          dense
          selected={option.value === chosen}
          autoFocus={option.value === chosen}
          onClick={() => onChoose(option.value)}
        >
          {option.text}
        </MenuItem>
      ))}
    </MenuList>
  );
}

/** The list stands in the popover itself, below the field in which one types. */
const InPlace = ({ children, role, id }: PopperProps) => (
  <Box role={role} id={id} sx={{ '& .MuiPaper-root': { boxShadow: 'none', m: 0 } }}>
    {typeof children === 'function' ? null : children}
  </Box>
);

function RefChoice({
  words,
  value,
  onChoose,
  onClose,
}: {
  words: SpecWords;
  value: string;
  onChoose: (ref: string) => void;
  onClose: () => void;
}) {
  return (
    <Autocomplete
      open
      disableClearable
      onClose={(_event, why) => why === 'escape' && onClose()}
      options={[...words.refs]}
      value={words.refs.find((ref) => ref.ref === value) ?? words.refs[0]!}
      getOptionLabel={(option) => option.text}
      getOptionKey={(option) => option.ref}
      onChange={(_event, next) => onChoose(next.ref)}
      renderInput={(params) => <TextField {...params} autoFocus size="small" label="Who" />}
      slots={{ popper: InPlace }}
      slotProps={{ listbox: { sx: { maxHeight: 260 } } }}
      sx={{ width: 300, px: 1.5, pt: 2 }}
      disablePortal
    />
  );
}

function RefsChoice({
  words,
  value,
  onDone,
}: {
  words: SpecWords;
  value: readonly string[];
  onDone: (refs: string[]) => void;
}) {
  const [refs, setRefs] = useState(value);
  return (
    <Stack spacing={1} sx={{ p: 1.5, width: 380 }}>
      <Autocomplete
        multiple
        options={words.refs.map((ref) => ref.ref)}
        value={[...refs]}
        getOptionLabel={(ref) => words.refs.find((known) => known.ref === ref)?.text ?? ref}
        onChange={(_event, next) => setRefs(next)}
        renderInput={(params) => <TextField {...params} autoFocus size="small" label="Groups" />}
      />
      <Button variant="contained" onClick={() => onDone([...refs])} sx={{ alignSelf: 'end' }}>
        Take these
      </Button>
    </Stack>
  );
}

function Several({
  options,
  value,
  mayBeNone,
  onDone,
}: {
  options: readonly { value: string; text: string }[];
  value: readonly string[];
  mayBeNone: boolean;
  onDone: (values: string[]) => void;
}) {
  const [chosen, setChosen] = useState(value);
  return (
    <Stack sx={{ p: 1.5, maxHeight: 360 }}>
      <Stack sx={{ overflow: 'auto' }}>
        {options.map((option, at) => (
          <FormControlLabel
            key={option.value}
            control={
              <Checkbox
                size="small"
                autoFocus={at === 0}
                checked={chosen.includes(option.value)}
                onChange={(_event, on) =>
                  setChosen(on ? [...chosen, option.value] : chosen.filter((each) => each !== option.value))
                }
              />
            }
            label={option.text}
          />
        ))}
      </Stack>
      <Button
        variant="contained"
        disabled={!chosen.length && !mayBeNone}
        onClick={() => onDone(options.map((option) => option.value).filter((value) => chosen.includes(value)))}
        sx={{ alignSelf: 'end', mt: 1 }}
      >
        Take these
      </Button>
    </Stack>
  );
}

function Typed({
  value,
  mono = false,
  most = 64,
  help = ' ',
  check,
  onDone,
}: {
  value: string;
  mono?: boolean;
  /** Letters at most. */
  most?: number;
  help?: string;
  check: (text: string) => string | null;
  onDone: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const problem = check(text);
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        if (!problem) onDone(text);
      }}
      sx={{ p: 1.5, display: 'flex', gap: 1, alignItems: 'start', width: most > 64 ? 460 : 320 }}
    >
      <TextField
        autoFocus
        fullWidth
        size="small"
        label="Value"
        value={text}
        error={problem !== null}
        helperText={problem ?? help}
        onChange={(event) => setText(event.target.value)}
        onFocus={(event) => event.target.select()}
        slotProps={{ htmlInput: { className: mono ? 'mono' : '', maxLength: most } }}
      />
      <Button type="submit" variant="contained" disabled={problem !== null} sx={{ height: 38 }}>
        Set
      </Button>
    </Box>
  );
}
