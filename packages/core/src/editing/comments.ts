import { type Command, type Comment, type Topology, entryOf } from '../topology';

export type CommentAnchor = NonNullable<Comment['anchor']>;
/** Who says something, and when (ISO 8601). */
export interface Speaker {
  readonly by: string;
  readonly at: string;
}

/** Begins a talk about something, or about a place. */
export const beginComment = (
  id: string,
  about: CommentAnchor | { x: number; y: number },
  text: string,
  { by, at }: Speaker,
): Command => ({
  kind: 'setComment',
  id,
  set: { ...('kind' in about ? { anchor: about } : { at: about }), entries: [{ by, at, text }] },
});

/** An answer opens a talk again that was settled. Null where the talk is gone. */
export function answerComment(topology: Topology, id: string, text: string, { by, at }: Speaker): Command | null {
  const comment = entryOf(topology.comments, id);
  if (!comment) return null;
  const { resolved: _settled, ...open } = comment;
  return { kind: 'setComment', id, set: { ...open, entries: [...comment.entries, { by, at, text }] } };
}

/** Settles a talk, or opens it again. */
export function resolveComment(topology: Topology, id: string, resolved: boolean): Command | null {
  const comment = entryOf(topology.comments, id);
  if (!comment) return null;
  const { resolved: _before, ...open } = comment;
  return { kind: 'setComment', id, set: resolved ? { ...open, resolved } : open };
}

/** What a comment is about, in words. */
export function commentSubject(topology: Topology, { anchor }: Pick<Comment, 'anchor'>): string {
  if (!anchor) return 'A place of the drawing';
  if (anchor.kind === 'device') {
    const name = entryOf(topology.devices, anchor.id)?.name ?? 'a device that is gone';
    return anchor.port === undefined ? name : `${name} ${anchor.port}`;
  }
  const link = entryOf(topology.links, anchor.id);
  const name = (id: string): string => entryOf(topology.devices, id)?.name ?? '';
  return link ? `${name(link.a.device)} – ${name(link.b.device)}` : 'a link that is gone';
}
