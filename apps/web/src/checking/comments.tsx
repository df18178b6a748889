import { Box, Button, Typography } from '@mui/material';
import { type StudentComment } from '@sobrin/contracts';
import { commentSubject } from '@sobrin/core/editing';
import { type Topology, entriesById } from '@sobrin/core/topology';
import { type ReactNode, useState } from 'react';
import { Choice, TextInput } from '../ui/fields';
import { when } from '../ui/words';
import { type About, type Comments } from './use-comments';

/** What a comment is about, in words. */
export function subjectOf({ kind, target }: About, topology: Topology, sentenceOf: (id: string) => string): string {
  if (kind === 'work') return 'The whole work';
  return kind === 'requirement' ? sentenceOf(target) : commentSubject(topology, { anchor: { kind, id: target } });
}

/** The drawing with the comments on its devices and links in place of those that its student was told while drawing. */
export const withPins = (topology: Topology, comments: readonly StudentComment[]): Topology => ({
  ...topology,
  comments: Object.fromEntries(
    comments.flatMap(({ id, kind, target, by, at, text }) =>
      kind === 'device' || kind === 'link' ? [[id, { anchor: { kind, id: target }, entries: [{ by, at, text }] }]] : [],
    ),
  ),
});

/** Comments one under the other, each with what it is about. */
export function CommentList({
  comments,
  subject,
  onShow,
  tools,
}: {
  comments: readonly StudentComment[];
  /** Null where it is plain from where it stands. */
  subject: (comment: StudentComment) => string | null;
  onShow: (comment: StudentComment) => void;
  /** What can be done with one; nothing where it is only read. */
  tools?: (comment: StudentComment) => ReactNode;
}) {
  return (
    <Box component="ul" aria-label="Comments" sx={{ listStyle: 'none', m: 0, p: 0 }}>
      {comments.map((comment) => {
        const about = subject(comment);
        return (
          <Box component="li" key={comment.id} sx={{ borderLeft: '3px solid var(--plum)', pl: 1.25, mb: 1 }}>
            <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1, alignItems: 'center' }}>
              {about !== null && (
                <Button
                  size="small"
                  data-line
                  onClick={() => onShow(comment)}
                  sx={{ minHeight: 24, minWidth: 0, py: 0, px: 0.5, ml: -0.5, textAlign: 'left' }}
                >
                  {about}
                </Button>
              )}
              <Typography variant="body2" color="text.secondary">
                {comment.by} · {when(comment.at)}
              </Typography>
              {tools?.(comment)}
            </Box>
            <Typography sx={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>{comment.text}</Typography>
          </Box>
        );
      })}
    </Box>
  );
}

/** The comments of a submission for those who teach: their own can be said otherwise, all of them be removed. */
export function OwnComments({
  comments,
  list = comments.list,
  subject,
  onShow,
}: {
  comments: Comments;
  /** Those of them that are shown; all where nothing is said. */
  list?: Comments['list'];
  subject: (comment: StudentComment) => string | null;
  onShow: (comment: StudentComment) => void;
}) {
  const [changing, setChanging] = useState<string | null>(null);
  const changed = comments.list.find(({ id }) => id === changing);
  if (changed)
    return (
      <CommentForm
        subjects={[{ about: changed, text: subject(changed) ?? 'this requirement' }]}
        before={changed.text}
        isBusy={comments.isBusy}
        onSay={(_about, text) => {
          comments.change(changed.id, text);
          setChanging(null);
        }}
        onDone={() => setChanging(null)}
      />
    );
  return (
    <CommentList
      comments={list}
      subject={subject}
      onShow={onShow}
      tools={({ id }) =>
        comments.isMine && (
          <>
            {comments.list.some((comment) => comment.id === id && comment.isOwn) && (
              <Small isBusy={comments.isBusy} onClick={() => setChanging(id)}>
                Say otherwise
              </Small>
            )}
            <Small isBusy={comments.isBusy} onClick={() => comments.remove(id)}>
              Remove
            </Small>
          </>
        )
      }
    />
  );
}

function Small({ isBusy, onClick, children }: { isBusy: boolean; onClick: () => void; children: ReactNode }) {
  return (
    <Button size="small" disabled={isBusy} onClick={onClick} sx={{ minHeight: 24, minWidth: 0, py: 0, px: 0.5 }}>
      {children}
    </Button>
  );
}

/** What a comment can be about here: the requirement first, then what its evidence points at, then all the rest. */
export function subjectsFor(
  requirement: string,
  pointed: { readonly devices: readonly string[]; readonly links: readonly string[] },
  topology: Topology,
): { about: About; text: string }[] {
  const first = [
    ...pointed.devices.map((target) => ({ kind: 'device' as const, target })),
    ...pointed.links.map((target) => ({ kind: 'link' as const, target })),
  ];
  const isFirst = (kind: 'device' | 'link', id: string): boolean =>
    pointed[kind === 'device' ? 'devices' : 'links'].includes(id);
  const rest = [
    ...entriesById(topology.devices).map(([target]) => ({ kind: 'device' as const, target })),
    ...entriesById(topology.links).map(([target]) => ({ kind: 'link' as const, target })),
  ].filter(({ kind, target }) => !isFirst(kind, target));
  const told = (about: About) => ({ about, text: subjectOf(about, topology, () => '') });
  return [
    { about: { kind: 'requirement', target: requirement }, text: 'this requirement' },
    ...first.map(told),
    { about: { kind: 'work', target: '' }, text: 'the whole work' },
    ...rest.map(told),
  ];
}

/** Says something of a requirement, a device, a link or all of a submission. */
export function CommentForm({
  subjects,
  before = '',
  isBusy,
  onSay,
  onDone,
}: {
  subjects: readonly { about: About; text: string }[];
  before?: string;
  isBusy: boolean;
  onSay: (about: About, text: string) => void;
  onDone: () => void;
}) {
  const [chosen, setChosen] = useState(0);
  const [text, setText] = useState(before);
  const isReady = text.trim() !== '' && text.length <= 4000 && !isBusy;
  const say = (): void => {
    const subject = subjects[chosen];
    if (isReady && subject) onSay(subject.about, text);
  };
  return (
    <Box
      component="form"
      aria-label="Comment"
      onSubmit={(event) => {
        event.preventDefault();
        say();
      }}
      onKeyDownCapture={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation();
          onDone();
        } else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          say();
        }
      }}
      sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto auto', gap: 1, alignItems: 'start', mb: 1 }}
    >
      <Box sx={{ gridColumn: '1 / -1', display: 'flex', gap: 1, alignItems: 'center', maxWidth: 420 }}>
        <span style={{ flex: 'none' }}>About</span>
        <Choice
          label="About"
          value={String(chosen)}
          options={subjects.map(({ text }, at) => ({ value: String(at), text }))}
          onChange={(value) => setChosen(Number(value))}
        />
      </Box>
      <TextInput
        label="Comment"
        value={before}
        multiline
        onCommit={setText}
        onDraft={setText}
        maxLength={4000}
        placeholder="what its student reads with the mark; Ctrl Enter says it"
        autoFocus
      />
      <Button type="submit" variant="contained" size="small" disabled={!isReady}>
        Say it
      </Button>
      <Button size="small" onClick={onDone}>
        Leave it
      </Button>
    </Box>
  );
}
