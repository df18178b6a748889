import { type NoteAnchor, hangNote } from '@sobrin/core/editing';
import { entriesById } from '@sobrin/core/topology';
import { Choice, Row, TextInput } from '../../ui/fields';
import { Heading } from '../../ui/sections';
import { useBench } from '../use-bench';
import { RemoveButton } from './remove-button';

export function NoteInspector({ id }: { id: string }) {
  const { document: topology, do: run } = useBench((state) => state);
  const note = topology.notes?.[id];
  if (!note) return null;
  const now = note.anchor ? `${note.anchor.kind} ${note.anchor.id}` : '';
  const link = note.anchor?.kind === 'link' ? topology.links[note.anchor.id] : undefined;
  const hangOn = (value: string): void => {
    const [kind, ...of] = value.split(' ');
    const anchor = value ? { kind: kind as NoteAnchor['kind'], id: of.join(' ') } : null;
    void run(anchor ? 'hang a note' : 'place a note', hangNote(id, anchor));
  };
  return (
    <>
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
      <RemoveButton what="this note" />
    </>
  );
}
