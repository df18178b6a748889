import { Alert, Box, Button, Typography } from '@mui/material';
import { type Cause, type CheckResult, type FollowThrough } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useState } from 'react';
import { IF_SMALL } from '../ui/frame';
import { Key } from '../ui/keys/key';
import { useShortcuts } from '../ui/keys/shortcuts';
import { points } from '../ui/words';
import { CauseSign } from './cause-sign';
import { CommentForm, subjectOf } from './comments';
import { type About, type Comments } from './use-comments';
import { type Causes } from './use-causes';

/** One mistake: what is wrong, what failed by it, what would put it right, and what it costs. */
export function CausePanel({
  causes,
  cause,
  result,
  drawing,
  comments,
  isShort,
  onRequirement,
}: {
  causes: Causes;
  cause: Cause;
  result: CheckResult;
  drawing: Topology;
  comments: Comments;
  isShort: boolean;
  onRequirement: (id: string) => void;
}) {
  const [isWriting, setIsWriting] = useState(false);
  useShortcuts([
    { id: 'comment', text: 'Tell the student', keys: 'C', off: !comments.isMine, run: () => setIsWriting(true) },
  ]);
  const { diagnosis, tried, tryIt } = causes;
  const sentenceOf = (id: string): string => result.requirements.find((each) => each.id === id)?.sentence ?? id;
  return (
    <Box
      component="section"
      aria-label={`Cause ${cause.letter}`}
      sx={{
        height: isShort ? 168 : 236,
        [IF_SMALL]: { height: 'auto' },
        flex: 'none',
        overflow: 'auto',
        borderTop: '1px solid var(--line)',
        background: 'var(--ground)',
        px: 2,
        py: 1.5,
      }}
    >
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.25, rowGap: 0.5, alignItems: 'center', mb: 1 }}>
        <CauseSign letter={cause.letter} />
        <Typography variant="h2" sx={{ flex: '1 1 260px', overflowWrap: 'anywhere' }}>
          {cause.text}
        </Typography>
        <Typography color="text.secondary">
          {SURE[cause.sure]} · took {points(cause.took)}
        </Typography>
        <Button
          size="small"
          aria-pressed={tried !== null}
          onClick={() => tryIt(tried === null)}
          sx={{ minHeight: 24, py: 0, gap: 0.5 }}
        >
          <Key id="try-repair" keys="Y" /> {tried ? 'As it was handed in' : 'See it repaired'}
        </Button>
        {comments.isMine && !isWriting && (
          <Button
            size="small"
            disabled={comments.isBusy}
            onClick={() => setIsWriting(true)}
            sx={{ minHeight: 24, py: 0, gap: 0.5 }}
          >
            <Key id="comment" keys="C" /> Tell the student
          </Button>
        )}
      </Box>
      {isWriting && <Feedback cause={cause} drawing={drawing} comments={comments} onDone={() => setIsWriting(false)} />}
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'flex-start', [IF_SMALL]: { flexDirection: 'column' } }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Row title="Repair">
            {cause.repair.texts.slice(0, MOST_TEXTS).join('; ')}
            {cause.repair.texts.length > MOST_TEXTS && ` and ${cause.repair.texts.length - MOST_TEXTS} more`}
            {tried && ` → ${points(cause.mark)} of ${points(result.of)}`}
          </Row>
          {cause.alternatives.map((other, at) => (
            <Row key={at} title="Or">
              {other.text}
            </Row>
          ))}
          <Row title="Explains">
            <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
              {cause.explains.map((id) => (
                <li key={id}>
                  <Button
                    size="small"
                    data-line
                    onClick={() => onRequirement(id)}
                    sx={{ minHeight: 24, py: 0, px: 0.5, ml: -0.5, textAlign: 'left', justifyContent: 'flex-start' }}
                  >
                    <span className="mono">{id}</span>&nbsp;{sentenceOf(id)}
                  </Button>
                </li>
              ))}
            </Box>
          </Row>
        </Box>
        {diagnosis && diagnosis.followThrough.costs.length > 0 && (
          <Arithmetic followThrough={diagnosis.followThrough} isInForce={result.diagnosis !== undefined} />
        )}
      </Box>
      {diagnosis && !diagnosis.complete && (
        <Alert severity="info" variant="outlined" sx={{ mt: 1 }}>
          {diagnosis.runs} repairs were tried, and no more: there may be others.
        </Alert>
      )}
    </Box>
  );
}
const MOST_TEXTS = 3;
const SURE = { sure: 'sure', likely: 'one of several that would do', unsure: 'by what stands beside it' } as const;

const Row = ({ title, children }: { title: string; children: React.ReactNode }) => (
  <Box sx={{ display: 'flex', gap: 1.25, mb: 0.5 }}>
    <Typography variant="body2" color="text.secondary" sx={{ width: 64, flex: 'none', pt: '1px' }}>
      {title}
    </Typography>
    <Box sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>{children}</Box>
  </Box>
);

/** The mark where a mistake costs once, line by line. */
function Arithmetic({ followThrough, isInForce }: { followThrough: FollowThrough; isInForce: boolean }) {
  const lines = followThrough.lines.map((line) => line.split(/: (?=[^:]*$)/) as [string, string]);
  return (
    <Box
      component="section"
      aria-label="Counted once"
      sx={{
        width: 260,
        flex: 'none',
        [IF_SMALL]: { width: '100%' },
        border: '1px solid var(--line)',
        borderRadius: '12px',
        background: 'var(--surface)',
        px: 1.5,
        py: 1,
      }}
    >
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        {isInForce ? 'Counted once' : 'If it counted once'}
      </Typography>
      {lines.map(([words, value], at) => (
        <Box
          key={at}
          sx={{
            display: 'flex',
            justifyContent: 'space-between',
            gap: 1,
            fontWeight: at === lines.length - 1 ? 700 : undefined,
            ...(at === lines.length - 1 && { borderTop: '1px solid var(--line2)', mt: 0.5, pt: 0.5 }),
          }}
        >
          <span>{words}</span>
          <span className="mono" style={{ textAlign: 'right' }}>
            {value}
          </span>
        </Box>
      ))}
    </Box>
  );
}

/** A comment that begins with what is known of the mistake, in the strength that one chooses. */
function Feedback({
  cause,
  drawing,
  comments,
  onDone,
}: {
  cause: Cause;
  drawing: Topology;
  comments: Comments;
  onDone: () => void;
}) {
  const strengths = [
    `One mistake is behind ${cause.explains.length === 1 ? 'something that failed' : `${cause.explains.length} things that failed`}.`,
    cause.where,
    cause.theirText,
  ];
  const [strength, setStrength] = useState(1);
  const { device, link } = cause.places[0] ?? {};
  const about: About =
    link !== undefined && drawing.links[link]
      ? { kind: 'link', target: link }
      : device !== undefined && drawing.devices[device]
        ? { kind: 'device', target: device }
        : { kind: 'work', target: '' };
  return (
    <Box sx={{ mb: 1 }}>
      <Box role="group" aria-label="How much is told" sx={{ display: 'flex', gap: 1, mb: 0.5 }}>
        {['that something is wrong', 'where it is', 'what it is'].map((words, at) => (
          <Button
            key={words}
            size="small"
            aria-pressed={strength === at}
            variant={strength === at ? 'contained' : 'outlined'}
            onClick={() => setStrength(at)}
            sx={{ minHeight: 24, py: 0 }}
          >
            {words}
          </Button>
        ))}
      </Box>
      <CommentForm
        key={strength}
        subjects={[{ about, text: subjectOf(about, drawing, String) }]}
        before={strengths[strength] ?? ''}
        isBusy={comments.isBusy}
        onSay={(to, text) => {
          comments.say(to, text);
          onDone();
        }}
        onDone={onDone}
      />
    </Box>
  );
}
