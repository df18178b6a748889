import { type Note, entriesById } from '@sobrin/core';
import { Choice, Row, TextInput } from '../../ui/fields';
import { Heading } from '../../ui/sections';
import { useBench } from '../use-bench';
import { RemoveButton } from './remove-button';

/** Where a note stands beside what it hangs on. */
export const BESIDE = { x: 60, y: -56 };

export function NoteInspector({ id }: { id: string }) {
  const { document: topology, do: run } = useBench((state) => state);
  const note = topology.notes?.[id];
  if (!note) return null;
  const set = (title: string, change: Partial<Note>): void =>
    void run(title, { kind: 'setNote', id, set: { ...note, ...change } });
  const now = note.anchor ? `${note.anchor.kind} ${note.anchor.id}` : '';
  const link = note.anchor?.kind === 'link' ? topology.links[note.anchor.id] : undefined;
  const hangOn = (value: string): void => {
    const { anchor: _anchor, ...rest } = note;
    const [kind, ...of] = value.split(' ');
    if (value) set('hang a note', { anchor: { kind: kind as 'device', id: of.join(' ') }, at: BESIDE });
    else void run('place a note', { kind: 'setNote', id, set: { ...rest, at: { x: 0, y: 0 } } });
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
          onCommit={(text) => set('write a note', { text })}
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
