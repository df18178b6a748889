import { Box, Button, IconButton, TextField, Typography } from '@mui/material';
import { IconArrowLeft, IconX } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import { commentSubject } from '@sobrin/core/editing';
import { entriesById } from '@sobrin/core/topology';
import { type FormEvent } from 'react';
import { SidePanel } from '../../ui/side-panel';
import { useBench } from '../use-bench';
import { type Talk, talkKey } from './open-talk';
import { Key } from '../../ui/keys/key';

/** Comments as threads: one of them, or all that the drawing has. */
export default function CommentsPanel({
  talk,
  onOpen,
  onSay,
  onResolve,
  onRemove,
  onClose,
  drafts,
  onDraft,
}: {
  talk: Talk;
  onOpen: (talk: Talk) => void;
  /** Out: whether it was taken. */
  onSay: (talk: Exclude<Talk, 'all'>, text: string) => boolean;
  onResolve: (id: string, resolved: boolean) => void;
  onRemove: (id: string) => void;
  onClose: () => void;
  /** What is typed and not said yet, by {@link talkKey}: it stays while one looks at something else. */
  drafts: ReadonlyMap<string, string>;
  onDraft: (key: string, text: string) => void;
}) {
  const topology = useBench((state) => state.document);
  const comment = talk !== 'all' && 'id' in talk ? topology.comments?.[talk.id] : undefined;
  const title =
    talk === 'all'
      ? 'Comments'
      : 'about' in talk
        ? commentSubject(topology, 'kind' in talk.about ? { anchor: talk.about } : {})
        : commentSubject(topology, comment ?? {});
  return (
    <SidePanel
      label="Comments"
      onClose={() => {
        onDraft(talkKey(talk), '');
        onClose();
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, mb: 1 }}>
        {talk !== 'all' && (
          <IconButton size="small" aria-label="All comments" onClick={() => onOpen('all')} sx={{ ml: -0.5 }}>
            <IconArrowLeft size={16} />
          </IconButton>
        )}
        <Typography variant="h2" sx={{ fontSize: 16, flex: 1 }} noWrap>
          {title}
        </Typography>
        <IconButton size="small" aria-label="Close the comments" onClick={onClose}>
          <IconX size={16} />
        </IconButton>
      </Box>
      {talk === 'all' && <CommentList onOpen={(id) => onOpen({ id })} />}
      {comment && talk !== 'all' && 'id' in talk && (
        <>
          {comment.entries.map((entry, at) => (
            <Box key={at} sx={{ borderLeft: '3px solid var(--plum)', pl: 1.25, mb: 1.5 }}>
              <Typography variant="body2" color="text.secondary">
                <b>{entry.by}</b> · {when(entry.at)}
              </Typography>
              <Typography sx={{ whiteSpace: 'pre-wrap' }}>{entry.text}</Typography>
            </Box>
          ))}
          <Box sx={{ display: 'flex', gap: 1, mb: 1.5 }}>
            <Button size="small" variant="outlined" onClick={() => onResolve(talk.id, !comment.resolved)}>
              {comment.resolved ? 'Open again' : 'Resolve'}
            </Button>
            <Button size="small" color="error" onClick={() => onRemove(talk.id)}>
              Remove
            </Button>
          </Box>
        </>
      )}
      {talk !== 'all' && ('about' in talk || comment) && (
        <Say
          key={talkKey(talk)}
          label={'id' in talk ? 'Answer' : 'Comment'}
          text={drafts.get(talkKey(talk)) ?? ''}
          onDraft={(text) => onDraft(talkKey(talk), text)}
          onSay={(text) => onSay(talk, text)}
        />
      )}
    </SidePanel>
  );
}

function CommentList({ onOpen }: { onOpen: (id: string) => void }) {
  const topology = useBench((state) => state.document);
  const all = entriesById(topology.comments);
  const open = all.filter(([, comment]) => !comment.resolved);
  const settled = all.filter(([, comment]) => comment.resolved);
  if (!all.length)
    return (
      <Typography color="text.secondary">
        Nothing is said yet. Choose a device or a link and press <Key id="comment" keys="C" />; with nothing chosen the
        comment is about the place in the middle.
      </Typography>
    );
  return [
    ['Open', open],
    ['Resolved', settled],
  ].map(([title, list]) =>
    typeof list === 'string' || !list?.length ? null : (
      <Box key={title as string} component="section" aria-label={title as string} sx={{ mb: 2 }}>
        <Typography variant="h3" sx={{ mb: 0.5 }}>
          {title as string}
        </Typography>
        {list.map(([id, comment]) => (
          <Button
            key={id}
            fullWidth
            onClick={() => onOpen(id)}
            sx={{ display: 'block', textAlign: 'left', color: 'var(--ink)', px: 1, py: 0.75, fontWeight: 400 }}
          >
            <Typography component="span" variant="body2" color="text.secondary" sx={{ display: 'block' }}>
              {commentSubject(topology, comment)} · {plural(comment.entries.length, 'entry', 'entries')}
            </Typography>
            <Box
              component="span"
              sx={{ display: 'block', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            >
              {comment.entries[0]?.text}
            </Box>
          </Button>
        ))}
      </Box>
    ),
  );
}

function Say({
  label,
  text,
  onDraft,
  onSay,
}: {
  label: string;
  text: string;
  onDraft: (text: string) => void;
  onSay: (text: string) => boolean;
}) {
  const say = (event?: FormEvent): void => {
    event?.preventDefault();
    if (!text.trim()) return;
    if (onSay(text.trim())) onDraft('');
  };
  return (
    <form onSubmit={say}>
      <TextField
        autoFocus
        fullWidth
        multiline
        minRows={2}
        size="small"
        label={label}
        value={text}
        onChange={(event) => onDraft(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) say();
        }}
        slotProps={{ htmlInput: { maxLength: 4000, 'data-draft': true } }}
      />
      <Box sx={{ display: 'flex', justifyContent: 'flex-end', alignItems: 'center', gap: 1, mt: 1 }}>
        <kbd>Ctrl Enter</kbd>
        <Button type="submit" size="small" variant="contained" disabled={!text.trim()}>
          Say it
        </Button>
      </Box>
    </form>
  );
}

const when = (iso: string): string => {
  const date = new Date(iso);
  return Number.isNaN(date.getTime())
    ? iso
    : date.toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
};
