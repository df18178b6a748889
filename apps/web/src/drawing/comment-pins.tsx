import { type CommentPin } from '@sobrin/core/drawing';
import { memo } from 'react';

/** The pins of comments, their tips on what they are about. Settled ones are hollow. */
export const CommentPins = memo(function CommentPins({
  pins,
  chosen,
  onPick,
}: {
  pins: readonly CommentPin[];
  chosen: string | null;
  onPick: (id: string) => void;
}) {
  return pins.map(({ id, x, y, entries, resolved, text }) => (
    <button
      key={id}
      type="button"
      className={`comment-pin nopan nodrag${resolved ? ' resolved' : ''}${chosen === id ? ' chosen' : ''}`}
      style={{ transform: `translate(${x - 10}px, ${y - 25}px)` }}
      aria-label={`Comment${resolved ? ', resolved' : ''}: ${text}`}
      title={text}
      onClick={() => onPick(id)}
    >
      <svg width={20} height={25} viewBox="0 0 20 25" aria-hidden>
        <path d="M10 24.5C8 20 1 16 1 9.5a9 9 0 0 1 18 0C19 16 12 20 10 24.5z" />
      </svg>
      <span>{entries}</span>
    </button>
  ));
});
