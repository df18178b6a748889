import { Box, Button, Typography } from '@mui/material';
import { type Plan } from '@sobrin/core/plan';
import { type Topology } from '@sobrin/core/topology';
import { useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { points } from '../ui/words';
import { VerdictSign } from '../ui/verdict';
import { CauseSign } from './cause-sign';
import { CommentForm, OwnComments, subjectOf, subjectsFor } from './comments';
import { type Causes } from './use-causes';
import { type Comments } from './use-comments';
import { DecideFact, DecisionLines, PointsForm } from './decide';
import { type Item, type RequirementResult, sortedItems } from './findings';
import { type Decisions } from './use-decisions';
import { Key } from '../ui/keys/key';
import { useShortcuts } from '../ui/keys/shortcuts';
import { IF_SMALL } from '../ui/frame';

/** What a requirement's points rest on, item by item; each place leads into the drawing. */
export function Evidence({
  requirement,
  drawing,
  plan,
  isShort = false,
  onPlace,
  decisions,
  comments,
  specAt,
  causes,
  hint,
}: {
  requirement: RequirementResult;
  drawing: Topology;
  plan: Plan | null;
  /** Where drawings need the room. */
  isShort?: boolean;
  onPlace: (item: Item) => void;
  /** Absent where nobody decides: what a student sees. */
  decisions?: Decisions;
  comments?: Comments;
  /** Where the requirement stands in the spec; absent for those who may not see that. */
  specAt?: string;
  /** The mistakes by which it failed, where they may be seen. */
  causes?: Causes;
  /** What helps a student who has not met it. */
  hint?: string;
}) {
  const navigate = useNavigate();
  const [writing, setWriting] = useState<'points' | 'comment' | null>(null);
  /** Back to the list, where keys lead on. */
  const endWriting = (): void => {
    setWriting(null);
    document.querySelector<HTMLElement>('[data-requirement][aria-current=true]')?.focus();
  };
  const items = sortedItems(requirement.items);
  const open = items.find(({ met, key }) => met === null && key !== undefined);
  const mayDecide = decisions?.isMine === true && !decisions.isBusy;
  const maySay = comments?.isMine === true && !comments.isBusy;
  const decide = (isMet: boolean): void =>
    decisions?.decide({ requirement: requirement.id, item: open!.key!, isMet, points: null, reason: '' });
  useShortcuts(
    decisions
      ? [
          { id: 'points', text: 'Give other points', keys: 'E', off: !mayDecide, run: () => setWriting('points') },
          {
            id: 'fact-holds',
            text: 'What is not certain is met',
            keys: 'Y',
            off: !mayDecide || !open,
            run: () => decide(true),
          },
          {
            id: 'fact-fails',
            text: 'What is not certain is not met',
            keys: 'N',
            off: !mayDecide || !open,
            run: () => decide(false),
          },
          {
            id: 'fact-fails-all',
            text: 'The same for the whole class',
            keys: 'Shift N',
            off: !mayDecide || !open?.proposed,
            run: () => decisions?.acceptForAll(requirement.id, open!.code!),
          },
          {
            id: 'in-spec',
            text: 'The requirement in the spec',
            keys: 'G',
            off: specAt === undefined,
            run: () => void navigate(`${specAt}#${encodeURI(requirement.id)}`),
          },
          { id: 'comment', text: 'Comment', keys: 'C', off: !maySay, run: () => setWriting('comment') },
        ]
      : [],
  );
  const pointed = useMemo(() => {
    const places = requirement.items.filter((item) => item.met !== true).flatMap((item) => item.places);
    return {
      devices: [
        ...new Set(places.flatMap(({ device }) => (device !== undefined && drawing.devices[device] ? [device] : []))),
      ],
      links: [...new Set(places.flatMap(({ link }) => (link !== undefined && drawing.links[link] ? [link] : [])))],
    };
  }, [requirement, drawing]);
  const said = (comments?.list ?? []).filter(
    ({ kind, target }) =>
      (kind === 'requirement' && target === requirement.id) ||
      (kind === 'device' && pointed.devices.includes(target)) ||
      (kind === 'link' && pointed.links.includes(target)),
  );
  const won = requirement.items.filter((item) => item.met === true).length;
  return (
    <Box
      component="section"
      aria-label="Evidence"
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
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.25, alignItems: 'center', mb: 1 }}>
        <VerdictSign verdict={requirement.verdict} size={20} />
        <Typography variant="h2" sx={{ flex: '1 1 200px' }}>
          {requirement.sentence}
        </Typography>
        {requirement.items.length > 0 && (
          <Typography color="text.secondary">
            {won} of {requirement.items.length} met
          </Typography>
        )}
        <b className="mono" style={{ fontSize: 15 }}>
          {points(requirement.points)} / {points(requirement.of)}
        </b>
        {causes?.lettersOf(requirement.id).map((letter) => (
          <Button
            key={letter}
            size="small"
            aria-label={`Cause ${letter}`}
            onClick={() => causes.choose(letter)}
            sx={{ minHeight: 24, minWidth: 0, py: 0, px: 0.25 }}
          >
            <CauseSign letter={letter} />
          </Button>
        ))}
        {specAt !== undefined && (
          <Button
            size="small"
            component={Link}
            to={`${specAt}#${encodeURI(requirement.id)}`}
            sx={{ minHeight: 24, py: 0, gap: 0.5 }}
          >
            <Key id="in-spec" keys="G" /> In the spec
          </Button>
        )}
        {decisions?.isMine && writing !== 'points' && (
          <Button
            size="small"
            disabled={decisions.isBusy}
            onClick={() => setWriting('points')}
            sx={{ minHeight: 24, py: 0, gap: 0.5 }}
          >
            <Key id="points" keys="E" /> Give other points
          </Button>
        )}
        {comments?.isMine && writing !== 'comment' && (
          <Button
            size="small"
            disabled={comments.isBusy}
            onClick={() => setWriting('comment')}
            sx={{ minHeight: 24, py: 0, gap: 0.5 }}
          >
            <Key id="comment" keys="C" /> Comment
          </Button>
        )}
      </Box>
      {writing === 'points' && decisions && (
        <PointsForm requirement={requirement} decisions={decisions} onDone={endWriting} />
      )}
      {writing === 'comment' && comments && (
        <CommentForm
          subjects={subjectsFor(requirement.id, pointed, drawing)}
          isBusy={comments.isBusy}
          onSay={(about, text) => {
            comments.say(about, text);
            endWriting();
          }}
          onDone={endWriting}
        />
      )}
      {comments && said.length > 0 && (
        <OwnComments
          comments={comments}
          list={said}
          subject={(comment) =>
            comment.kind === 'requirement' ? null : subjectOf(comment, drawing, () => requirement.sentence)
          }
          onShow={({ kind, target }) =>
            onPlace({ text: '', met: null, places: [kind === 'link' ? { link: target } : { device: target }] })
          }
        />
      )}
      {hint !== undefined && (
        <Typography sx={{ mb: 1 }}>
          <b>Hint:</b> {hint}
        </Typography>
      )}
      {decisions && <DecisionLines requirement={requirement} decisions={decisions} />}
      {items.length > 0 && (
        <Box
          component="ul"
          sx={{
            listStyle: 'none',
            m: 0,
            p: 0,
            border: '1px solid var(--line)',
            borderRadius: '12px',
            background: 'var(--surface)',
            overflow: 'hidden',
          }}
        >
          {items.map((item, at) => (
            <Box
              component="li"
              key={at}
              sx={{
                display: 'flex',
                gap: 1.25,
                px: 1.5,
                py: 0.75,
                borderTop: at ? '1px solid var(--line)' : 0,
                alignItems: 'start',
              }}
            >
              <Box sx={{ pt: '1px' }}>
                <VerdictSign verdict={item.met === true ? 'met' : item.met === false ? 'lost' : 'unjudged'} size={16} />
              </Box>
              <span style={{ flex: 1 }}>{item.text}</span>
              {item.met === null && decisions && (
                <DecideFact requirement={requirement.id} item={item} decisions={decisions} isFirst={item === open} />
              )}
              {item.places.length > 0 && (
                <Button size="small" onClick={() => onPlace(item)} sx={{ minHeight: 0, py: 0 }}>
                  {placeWords(item, drawing, plan)}
                </Button>
              )}
            </Box>
          ))}
        </Box>
      )}
    </Box>
  );
}

function placeWords({ places }: Item, drawing: Topology, plan: Plan | null): string {
  const names = places.map(({ device, port, link, site, block }) => {
    if (block !== undefined) return plan?.blocks[block]?.name ?? '';
    if (link !== undefined && drawing.links[link]) {
      const { a, b } = drawing.links[link];
      return `${drawing.devices[a.device]?.name ?? ''} – ${drawing.devices[b.device]?.name ?? ''}`;
    }
    if (device !== undefined)
      return `${drawing.devices[device]?.name ?? device}${port === undefined ? '' : ` ${port}`}`;
    return site === undefined ? '' : (drawing.sites[site]?.name ?? site);
  });
  const distinct = [...new Set(names.filter(Boolean))];
  return distinct.length > 2 ? `show ${distinct[0]} and ${distinct.length - 1} more` : `show ${distinct.join(', ')}`;
}
