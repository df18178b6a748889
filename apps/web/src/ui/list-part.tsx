import { Box, Button, IconButton } from '@mui/material';
import { IconPlus, IconX } from '@tabler/icons-react';
import { useState } from 'react';
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
 * A list of entries as lines one types into. A new line is kept as soon as its first field is filled; a line whose first
 * field is emptied goes away.
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
  const first = columns[0]!;
  const change = (at: number, next: T): void =>
    onStore(
      first.read(next) === ''
        ? entries.filter((_one, index) => index !== at)
        : entries.map((old, index) => (index === at ? next : old)),
    );
  return (
    <Fold title={title} aside={entries.length || 'none'} startOpen={entries.length > 0}>
      {entries.map((entry, at) => (
        <Line
          key={at}
          name={`${entryName} ${at + 1}`}
          entry={entry}
          columns={columns}
          onChange={(next) => change(at, next)}
          onRemove={() => onStore(entries.filter((_one, index) => index !== at))}
        />
      ))}
      {draft !== null && (
        <Line
          name={`${entryName} ${entries.length + 1}`}
          entry={draft}
          columns={columns}
          autoFocus
          onChange={(next) => {
            if (first.read(next) === '') return setDraft(next);
            setDraft(null);
            onStore([...entries, next]);
          }}
          onRemove={() => setDraft(null)}
        />
      )}
      {draft === null && (
        <Button size="small" startIcon={<IconPlus size={14} />} onClick={() => setDraft(blank)}>
          Add {/^[aeio]/i.test(entryName) ? 'an' : 'a'} {entryName}
        </Button>
      )}
    </Fold>
  );
}

function Line<T>({
  name,
  entry,
  columns,
  autoFocus = false,
  onChange,
  onRemove,
}: {
  name: string;
  entry: T;
  columns: readonly Column<T>[];
  autoFocus?: boolean;
  onChange: (entry: T) => void;
  onRemove: () => void;
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
      {columns.map((column, at) => (
        <div key={column.label} style={{ gridRow: column.below ? 2 : 1 }}>
          {column.choices ? (
            <Choice
              label={`${named}: ${column.label}`}
              value={column.read(entry)}
              options={column.choices}
              onChange={(text) => onChange(column.write(entry, text))}
            />
          ) : (
            <TextInput
              label={`${named}: ${column.label}`}
              mono={column.mono ?? false}
              placeholder={column.placeholder ?? column.label}
              value={column.read(entry)}
              {...(column.check && { check: (text: string) => column.check!(text, entry) })}
              strict={column.strict ?? false}
              {...(column.suggestions && { suggestions: column.suggestions })}
              autoFocus={autoFocus && at === 0}
              onCommit={(text) => onChange(column.write(entry, text))}
            />
          )}
        </div>
      ))}
      <IconButton size="small" aria-label={`Remove ${name}`} onClick={onRemove} sx={{ p: 0, height: 28, gridRow: 1 }}>
        <IconX size={14} />
      </IconButton>
    </Box>
  );
}
