import { Box, IconButton } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { useState } from 'react';
import { AddButton } from './add-button';
import { Choice, TextInput } from './fields';
import { Fold } from './sections';

/** One field of every entry of a list. `write` gives the entry with a text in it. */
export interface Column<T> {
  label: string;
  /** Width as a track of a grid. */
  width: string;
  read: (entry: T) => string;
  write: (entry: T, text: string) => T;
  mono?: boolean;
  placeholder?: string;
  check?: (text: string, entry: T) => string | null;
  /** What cannot be read cannot be kept: it stays in the field until it is mended. */
  strict?: boolean;
  choices?: readonly { value: string; text: string }[];
  suggestions?: readonly string[];
  /** Stands under the first line, where one is too short for all. */
  below?: boolean;
}

/**
 * A list of entries as lines one types into. A new line is kept as soon as its first field is filled, and Enter in it
 * begins the next one; a line whose first field is emptied goes away. Lines keep their fields, and with them the focus,
 * when the list is put in another order by what is typed.
 */
export function ListPart<T>({
  title,
  entryName,
  entries,
  columns,
  blank,
  onStore,
}: {
  title: string;
  /** What an entry is called: "route", "pool". */
  entryName: string;
  entries: readonly T[];
  columns: readonly Column<T>[];
  blank: T;
  onStore: (entries: T[]) => void;
}) {
  const [draft, setDraft] = useState<T | null>(null);
  /** By the text in the first field of a line, which line that is; "new" and a number while it has none. */
  const [lines, setLines] = useState<ReadonlyMap<string, string>>(new Map());
  const [added, setAdded] = useState(0);
  const first = columns[0]!;
  const keys = keysOf(entries.map((entry) => lines.get(first.read(entry)) ?? first.read(entry)));
  const change = (at: number, next: T): void => {
    const text = first.read(next);
    if (text === '') return onStore(entries.filter((_one, index) => index !== at));
    setLines(new Map(lines).set(text, keys[at]!));
    onStore(entries.map((old, index) => (index === at ? next : old)));
  };
  const begin = (): void => {
    setAdded(added + 1);
    setDraft(blank);
  };
  const newKey = `new ${added}`;
  const all = draft === null ? entries : [...entries, draft];
  const keep = (next: T): void => {
    if (first.read(next) === '') return setDraft(next);
    setDraft(null);
    setLines(new Map(lines).set(first.read(next), newKey));
    onStore([...entries, next]);
  };
  return (
    <Fold title={title} aside={entries.length || 'none'} startOpen={entries.length > 0}>
      {all.map((entry, at) => (
        <Line
          key={keys[at] ?? newKey}
          name={`${entryName} ${at + 1}`}
          entry={entry}
          columns={columns}
          autoFocus={at === entries.length}
          onChange={(next) => (at < entries.length ? change(at, next) : keep(next))}
          onRemove={() =>
            at < entries.length ? onStore(entries.filter((_one, index) => index !== at)) : setDraft(null)
          }
          {...(at === entries.length - 1 && draft === null && { onEnter: begin })}
        />
      ))}
      {draft === null && (
        <AddButton size="small" onAdd={begin}>
          Add {/^[aeio]/i.test(entryName) ? 'an' : 'a'} {entryName}
        </AddButton>
      )}
    </Fold>
  );
}

/** Each key once: a second one like it is counted. */
function keysOf(texts: readonly string[]): string[] {
  const seen = new Map<string, number>();
  return texts.map((text) => {
    const nth = (seen.get(text) ?? 0) + 1;
    seen.set(text, nth);
    return nth === 1 ? text : `${text} #${nth}`;
  });
}

function Line<T>({
  name,
  entry,
  columns,
  autoFocus = false,
  onChange,
  onRemove,
  onEnter,
}: {
  name: string;
  entry: T;
  columns: readonly Column<T>[];
  autoFocus?: boolean;
  onChange: (entry: T) => void;
  onRemove: () => void;
  onEnter?: () => void;
}) {
  const named = name.charAt(0).toUpperCase() + name.slice(1);
  return (
    <Box
      role="group"
      aria-label={named}
      sx={{
        display: 'grid',
        gridTemplateColumns: `${columns.flatMap(({ below, width }) => (below ? [] : width)).join(' ')} 24px`,
        gap: '4px',
        mb: columns.some(({ below }) => below) ? 1 : '4px',
        alignItems: 'start',
      }}
    >
      {columns.map((column, at) =>
        column.choices ? (
          <div key={column.label} style={{ gridRow: column.below ? 2 : 1 }}>
            <Choice
              label={`${named}: ${column.label}`}
              value={column.read(entry)}
              options={column.choices}
              onChange={(text) => onChange(column.write(entry, text))}
            />
          </div>
        ) : (
          <TextInput
            key={column.label}
            gridRow={column.below ? 2 : 1}
            label={`${named}: ${column.label}`}
            mono={column.mono ?? false}
            placeholder={column.placeholder ?? column.label}
            value={column.read(entry)}
            {...(column.check && { check: (text: string) => column.check!(text, entry) })}
            strict={column.strict ?? false}
            {...(column.suggestions && { suggestions: column.suggestions })}
            autoFocus={autoFocus && at === 0}
            onCommit={(text) => onChange(column.write(entry, text))}
            {...(onEnter && { onEnter })}
          />
        ),
      )}
      <IconButton size="small" aria-label={`Remove ${name}`} onClick={onRemove} sx={{ p: 0, height: 28, gridRow: 1 }}>
        <IconX size={14} />
      </IconButton>
    </Box>
  );
}
