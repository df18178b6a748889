import { type Command, type Comment, type Topology, canonicalJson, entriesById, entryOf } from '../topology';

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

/**
 * What in a change of a drawing goes beyond speaking in it: somebody may begin talks and answer in their own name, settle
 * talks, and take back those in which nobody else has spoken. Null where it is nothing but that.
 */
export function beyondSpeaking(before: Topology, after: Topology, by: string): string | null {
  const { comments: talks = {}, ...drawn } = before;
  const { comments = {}, ...now } = after;
  if (canonicalJson(drawn) !== canonicalJson(now)) return 'the drawing is its student’s to change';
  for (const [id, { entries }] of entriesById(talks))
    if (!entryOf(comments, id) && entries.some((entry) => entry.by !== by)) return 'others have spoken in this talk';
  for (const [id, { entries, resolved: _settled, ...about }] of entriesById(comments)) {
    const { entries: said = [], resolved: _before, ...was } = entryOf(talks, id) ?? { ...about, entries: [] };
    if (canonicalJson(entries.slice(0, said.length)) !== canonicalJson(said))
      return 'what was said stays as it was said';
    if (canonicalJson(about) !== canonicalJson(was)) return 'a talk stays about what it is about';
    const other = entries.slice(said.length).find((entry) => entry.by !== by);
    if (other) return `this is not said by ${other.by}`;
  }
  return null;
}
