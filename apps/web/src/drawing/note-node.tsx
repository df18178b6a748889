import { type NoteBox } from '@sobrin/core/drawing';
import { type Node, type NodeProps } from '@xyflow/react';
import { memo } from 'react';

export type NoteNode = Node<{ note: NoteBox }, 'note'>;

/** A note: what somebody wrote about a device, a link, a site or a place. */
export const NoteView = memo(function NoteView({ data: { note }, selected }: NodeProps<NoteNode>) {
  return (
    <div className={`note${selected ? ' selected' : ''}`}>
      {note.runs.map((line, at) => (
        <div key={at}>
          {line.length === 0 && '\u00a0'}
          {line.map(({ text, bold, italic, mono }, nth) => (
            <span
              key={nth}
              className={mono ? 'mono' : undefined}
              style={{ fontWeight: bold ? 700 : undefined, fontStyle: italic ? 'italic' : undefined }}
            >
              {text}
            </span>
          ))}
        </div>
      ))}
    </div>
  );
});
