import { Box, Button, Checkbox, IconButton, LinearProgress, Stack, Typography } from '@mui/material';
import { plural } from '@sobrin/core';
import {
  FAMILIES,
  FAMILY_TITLES,
  type Draft,
  type DraftedLab,
  type Proposal,
  type Spec,
  withProposals,
} from '@sobrin/core/spec';
import { canonicalJson } from '@sobrin/core/topology';
import { IconChevronDown, IconChevronRight, IconX } from '@tabler/icons-react';
import { type KeyboardEvent, useEffect, useId, useMemo, useRef, useState } from 'react';
import { announce } from '../ui/announce';
import { TextInput } from '../ui/fields';
import { isTyping } from '../ui/keys/shortcuts';
import { SidePanel } from '../ui/side-panel';
import { useDraft } from './use-draft';

/** Sentences that a spec might ask, from reference, brief and plan: those that are ticked are added together. */
export function DraftPanel({
  lab,
  spec,
  onChange,
  onClose,
}: {
  /** The lab as it is when the draft begins. */
  lab: DraftedLab;
  /** The spec as it is now: what it has is no longer offered. */
  spec: Spec;
  onChange: (spec: Spec) => void;
  onClose: () => void;
}) {
  const news = useDraft(lab);
  return (
    <SidePanel label="Draft" bare wide onClose={onClose}>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 1, px: 2, pt: 1.5 }}>
        <Typography variant="h2">Draft</Typography>
        <Typography variant="body2" color="text.secondary" sx={{ flex: 1 }}>
          from the reference, the brief and the plan
        </Typography>
        <IconButton size="small" aria-label="Close the draft" onClick={onClose} sx={{ alignSelf: 'start' }}>
          <IconX size={16} />
        </IconButton>
      </Stack>
      {'draft' in news ? (
        <Offers draft={news.draft} spec={spec} onChange={onChange} />
      ) : 'trouble' in news ? (
        <Typography sx={{ p: 2 }}>{news.trouble}</Typography>
      ) : (
        <Box sx={{ p: 2 }}>
          <Typography sx={{ mb: 1 }}>
            {news.of
              ? `Known mistakes are planted in the reference, to see which sentence notices which: ${news.done} of ${news.of}.`
              : 'Known mistakes are planted in the reference, to see which sentence notices which.'}
          </Typography>
          <LinearProgress
            aria-label="How many mistakes have been tried"
            variant={news.of ? 'determinate' : 'indeterminate'}
            value={news.of ? (100 * news.done) / news.of : 0}
          />
        </Box>
      )}
    </SidePanel>
  );
}

/** Whether a sentence is left out as it adds nothing; others are left out for a person to decide. */
const addsNothing = ({ leftOut }: Proposal): boolean =>
  /^(it says no more|nothing that was tried|the spec notices)/.test(leftOut ?? '');

const totalProblem = (text: string): string | null =>
  /^\d{1,4}$/.test(text) && Number(text) > 0 ? null : 'A whole number from 1 to 9999.';

function Offers({ draft, spec, onChange }: { draft: Draft; spec: Spec; onChange: (spec: Spec) => void }) {
  const [ticked, setTicked] = useState<ReadonlySet<string>>(
    () => new Set(draft.proposals.filter(({ leftOut }) => leftOut === undefined).map(({ id }) => id)),
  );
  const [total, setTotal] = useState('');
  const [isOpen, setOpen] = useState(false);
  const pointsId = useId();
  const list = useRef<HTMLDivElement>(null);
  const has = useMemo(
    () => new Set(spec.sections.flatMap(({ requirements }) => requirements.map(({ rule }) => canonicalJson(rule)))),
    [spec],
  );
  const [taken, offered] = [true, false].map((isIn) =>
    draft.proposals.filter(({ rule }) => has.has(canonicalJson(rule)) === isIn),
  ) as [Proposal[], Proposal[]];
  const chosen = offered.filter(({ id }) => ticked.has(id));
  const now = new Set([...draft.noticed, ...taken.flatMap(({ notices }) => notices)]);
  const then = new Set([...now, ...chosen.flatMap(({ notices }) => notices)]);
  /** What each notices that neither the spec nor a ticked one above it does. */
  const gains = new Map<string, number>();
  const seen = new Set(now);
  for (const { id, notices } of [...chosen, ...offered.filter((each) => !ticked.has(each.id))]) {
    gains.set(id, notices.filter((fault) => !seen.has(fault)).length);
    if (ticked.has(id)) for (const fault of notices) seen.add(fault);
  }
  const [first] = useState(
    `The draft is there: ${plural(chosen.length, 'sentence is', 'sentences are')} ticked, by which ${then.size} of ${plural(draft.faults.length, 'planted mistake')} are noticed.`,
  );
  useEffect(() => {
    announce(first);
    // Whoever types meanwhile goes on typing.
    if (!isTyping(document.activeElement)) list.current?.querySelector<HTMLElement>('input')?.focus();
  }, [first]);
  const add = (): void => {
    if (!chosen.length) return;
    onChange(withProposals(spec, draft, chosen, total === '' ? undefined : Number(total)));
    announce(`${plural(chosen.length, 'sentence is', 'sentences are')} in the spec now.`);
  };
  const tick = (ids: readonly string[], isTicked: boolean): void =>
    setTicked((before) => new Set([...[...before].filter((id) => !ids.includes(id)), ...(isTicked ? ids : [])]));
  const onKeyDown = (event: KeyboardEvent<HTMLElement>): void => {
    if (!(event.target instanceof HTMLInputElement) || event.target.type !== 'checkbox') return;
    const boxes = [...(list.current?.querySelectorAll<HTMLElement>('input[type=checkbox]') ?? [])];
    const at = boxes.indexOf(event.target);
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: boxes.length - 1 }[event.key];
    if (to !== undefined) boxes[Math.max(0, Math.min(boxes.length - 1, to))]?.focus();
    else if (event.key === 'Enter') add();
    else return;
    event.preventDefault();
  };
  const shown = isOpen ? offered : offered.filter((each) => !addsNothing(each) || ticked.has(each.id));
  const hidden = offered.length - shown.length;
  return (
    <>
      <Box sx={{ px: 2, pt: 1, pb: 1.5 }}>
        <Stack direction="row" sx={{ justifyContent: 'space-between', gap: 2 }}>
          <Typography variant="body2">Planted mistakes that a sentence notices</Typography>
          <Typography variant="body2" className="mono" sx={{ whiteSpace: 'nowrap' }}>
            <b>
              {now.size} → {then.size}
            </b>{' '}
            of {draft.faults.length}
          </Typography>
        </Stack>
        <NoticedBar now={now.size} then={then.size} of={draft.faults.length} />
      </Box>
      <div ref={list} onKeyDown={onKeyDown}>
        {FAMILIES.map((family) => {
          const of = shown.filter((proposal) => proposal.family === family);
          return of.length ? (
            <Family
              key={family}
              title={FAMILY_TITLES[family]}
              proposals={of}
              ticked={ticked}
              gains={gains}
              onTick={tick}
            />
          ) : null;
        })}
      </div>
      {offered.length === 0 && (
        <Typography sx={{ p: 2 }}>The spec asks for all that the draft would propose.</Typography>
      )}
      {(hidden > 0 || isOpen) && (
        <Button
          aria-expanded={isOpen}
          startIcon={isOpen ? <IconChevronDown size={16} /> : <IconChevronRight size={16} />}
          onClick={() => setOpen(!isOpen)}
          sx={{ m: 1, color: 'var(--ink2)' }}
        >
          {isOpen ? 'Those that add nothing' : `${plural(hidden, 'more that adds', 'more that add')} nothing`}
        </Button>
      )}
      <Stack
        direction="row"
        sx={{
          position: 'sticky',
          bottom: 0,
          zIndex: 1,
          gap: 1.5,
          px: 2,
          py: 1,
          alignItems: 'center',
          justifyContent: 'space-between',
          background: 'var(--surface)',
          borderTop: '1px solid var(--line2)',
        }}
      >
        <Typography component="label" htmlFor={pointsId} variant="body2">
          Points together
        </Typography>
        <Box sx={{ flex: 1 }}>
          <TextInput
            id={pointsId}
            label="Points together"
            value={total}
            placeholder="1 or 2 each"
            check={totalProblem}
            strict
            onCommit={setTotal}
          />
        </Box>
        <Button variant="contained" disabled={!chosen.length} onClick={add}>
          {chosen.length ? `Add the ${chosen.length} ticked` : 'None is ticked'}
        </Button>
      </Stack>
    </>
  );
}

function Family({
  title,
  proposals,
  ticked,
  gains,
  onTick,
}: {
  title: string;
  proposals: readonly Proposal[];
  ticked: ReadonlySet<string>;
  gains: ReadonlyMap<string, number>;
  onTick: (ids: readonly string[], isTicked: boolean) => void;
}) {
  const ids = proposals.map(({ id }) => id);
  const isAll = ids.every((id) => ticked.has(id));
  return (
    <Box role="group" aria-label={`Draft of ${title}`}>
      <Stack
        direction="row"
        sx={{ alignItems: 'center', background: 'var(--ground)', borderBlock: '1px solid var(--line)', px: 1, pr: 2 }}
      >
        <Checkbox
          size="small"
          checked={isAll}
          indeterminate={!isAll && ids.some((id) => ticked.has(id))}
          onChange={() => onTick(ids, !isAll)}
          slotProps={{ input: { 'aria-label': `All of ${title}` } }}
        />
        <Typography variant="h3" sx={{ flex: 1 }}>
          {title}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          newly noticed
        </Typography>
      </Stack>
      {proposals.map((proposal) => (
        <Offer
          key={proposal.id}
          proposal={proposal}
          isTicked={ticked.has(proposal.id)}
          gain={gains.get(proposal.id) ?? 0}
          onTick={(isTicked) => onTick([proposal.id], isTicked)}
        />
      ))}
    </Box>
  );
}

function Offer({
  proposal: { sentence, why, leftOut },
  isTicked,
  gain,
  onTick,
}: {
  proposal: Proposal;
  isTicked: boolean;
  gain: number;
  onTick: (isTicked: boolean) => void;
}) {
  const [reason, name] = [useId(), useId()];
  return (
    <Stack direction="row" sx={{ alignItems: 'start', px: 1, pr: 2, py: 0.5, borderBottom: '1px solid var(--line)' }}>
      <Checkbox
        size="small"
        checked={isTicked}
        onChange={(_event, next) => onTick(next)}
        slotProps={{ input: { 'aria-labelledby': name, 'aria-describedby': reason } }}
      />
      <Box sx={{ flex: 1, minWidth: 0, pt: 0.75 }}>
        <Typography id={name} sx={{ color: isTicked ? 'var(--ink)' : 'var(--ink2)' }}>
          {sentence}
        </Typography>
        <Typography id={reason} variant="body2" color="text.secondary">
          {why}
          {leftOut !== undefined && !isTicked && (
            <>
              ;{' '}
              <span style={{ color: 'var(--plum)' }}>
                <b>left out:</b> {leftOut}
              </span>
            </>
          )}
        </Typography>
      </Box>
      <Typography
        className="mono"
        aria-label={`${gain} newly noticed`}
        sx={{ pt: 0.75, pl: 1, color: gain ? 'var(--ink)' : 'var(--ink3)' }}
      >
        {gain ? `+${gain}` : '0'}
      </Typography>
    </Stack>
  );
}

/** How many are noticed now, and how many with what is ticked. */
function NoticedBar({ now, then, of }: { now: number; then: number; of: number }) {
  const part = (n: number): string => `${of ? (100 * n) / of : 0}%`;
  return (
    <Box
      role="img"
      aria-label={`${now} of ${of} now, ${then} with what is ticked`}
      className="share-bar"
      sx={{
        position: 'relative',
        height: 10,
        mt: 0.5,
        borderRadius: 5,
        overflow: 'hidden',
        border: '1px solid var(--line2)',
        background: 'var(--ground)',
      }}
    >
      <Box
        sx={{
          position: 'absolute',
          inset: 0,
          width: part(then),
          // What would come is hatched, so that it is told by more than its tone.
          background: 'repeating-linear-gradient(-45deg, var(--spruce) 0 3px, var(--spruce-tint) 3px 7px)',
        }}
      />
      <Box sx={{ position: 'absolute', inset: 0, width: part(now), background: 'var(--spruce)' }} />
    </Box>
  );
}
