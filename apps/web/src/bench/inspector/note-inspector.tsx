import { Box, Typography } from '@mui/material';
import { type NoteAnchor, hangNote } from '@sobrin/core/editing';
import { entriesById } from '@sobrin/core/topology';
import { type KeyboardEvent } from 'react';
import { Choice, Row, TextInput } from '../../ui/fields';
import { Heading } from '../../ui/sections';
import { useBench } from '../use-bench';
import { RemoveButton } from './remove-button';

/** The step that made a note, as it is called in the history. */
const ADDED = 'add a note';

export function NoteInspector({ id }: { id: string }) {
  const { document: topology, do: run, past, undo } = useBench((state) => state);
  const note = topology.notes?.[id];
  if (!note) return null;
  const now = note.anchor ? `${note.anchor.kind} ${note.anchor.id}` : '';
  const link = note.anchor?.kind === 'link' ? topology.links[note.anchor.id] : undefined;
  const hangOn = (value: string): void => {
    const [kind, ...of] = value.split(' ');
    const anchor = value ? { kind: kind as NoteAnchor['kind'], id: of.join(' ') } : null;
    void run(anchor ? 'hang a note' : 'place a note', hangNote(id, anchor));
  };
  /** A note that nothing was written on is not kept by whoever thinks better of it. */
  const giveUp = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape' || note.text !== '') return;
    event.stopPropagation();
    if (past.at(-1)?.title === ADDED) undo();
    else void run('remove', { kind: 'setNote', id, set: null });
  };
  return (
    <Box onKeyDownCapture={giveUp}>
      <Heading title="Note" under={note.anchor ? 'It goes along with what it hangs on.' : 'It stays at its place.'} />
      <Row label="Text">
        <TextInput
          label="Text of the note"
          multiline
          autoFocus={note.text === ''}
          value={note.text}
          maxLength={2000}
          onCommit={(text) => run('write a note', { kind: 'changeNote', id, set: { text } })}
        />
      </Row>
      <Row label="Hangs on">
        <Choice
          label="What the note hangs on"
          value={now}
          options={[
            { value: '', text: 'a place' },
            ...(link ? [{ value: now, text: `the link ${link.cableId ?? ''}` }] : []),
            ...entriesById(topology.devices).map(([device, { name }]) => ({ value: `device ${device}`, text: name })),
            ...entriesById(topology.sites).map(([site, { name }]) => ({ value: `site ${site}`, text: name })),
          ]}
          onChange={hangOn}
        />
      </Row>
      {note.anchor && note.anchor.kind !== 'site' && (
        <Row label="Thread">
          <Choice
            label="Thread of the note"
            value={note.arrow ? 'arrow' : 'plain'}
            options={[
              { value: 'plain', text: 'plain' },
              { value: 'arrow', text: 'an arrow' },
            ]}
            onChange={(value) =>
              run('change a note', { kind: 'changeNote', id, set: { arrow: value === 'arrow' || null } })
            }
          />
        </Row>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        **bold**, *leaning*, `g0/1`, “# ” before a heading, “- ” before an item.
      </Typography>
      <RemoveButton what="this note" />
    </Box>
  );
}
