import { Box, Button, Typography } from '@mui/material';
import { type DecisionView } from '@sobrin/contracts';
import { useState } from 'react';
import { TextInput } from '../ui/fields';
import { Key } from '../ui/keys/key';
import { points, when } from '../ui/words';
import { type Item, type RequirementResult } from './findings';
import { type Decisions } from './use-decisions';

/** A number as people write it, with a point or a comma; null for none. */
const numberIn = (text: string): number | null =>
  /^-?\d+(?:[.,]\d{1,2})?$/.test(text.trim()) ? Number(text.trim().replace(',', '.')) : null;

/** Other points for a whole requirement, with the reason. */
export function PointsForm({
  requirement,
  decisions,
  onDone,
}: {
  requirement: RequirementResult;
  decisions: Decisions;
  onDone: () => void;
}) {
  const [given, setGiven] = useState(points(requirement.points));
  const [reason, setReason] = useState('');
  const [least, most] = requirement.deduction ? [-requirement.of, 0] : [0, requirement.of];
  const trouble = (text: string): string | null => {
    const number = numberIn(text);
    return number === null || number < least || number > most
      ? `From ${points(least)} to ${points(most)}, to the hundredth.`
      : null;
  };
  const number = numberIn(given);
  const isReady = trouble(given) === null && reason.trim() !== '';
  const give = (): void => {
    if (!isReady || number === null) return;
    decisions.decide({ requirement: requirement.id, item: null, isMet: null, points: number, reason });
    onDone();
  };
  return (
    <Box
      component="form"
      aria-label="Points by a person"
      onSubmit={(event) => {
        event.preventDefault();
        give();
      }}
      onKeyDownCapture={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onDone();
      }}
      sx={{
        display: 'grid',
        gridTemplateColumns: 'auto 72px auto minmax(0, 1fr) auto auto',
        gap: 1,
        alignItems: 'start',
        mb: 1,
        '& > span': { lineHeight: '28px' },
      }}
    >
      <span>Points</span>
      <TextInput
        label="Points"
        mono
        value={given}
        onCommit={setGiven}
        onDraft={setGiven}
        check={trouble}
        maxLength={12}
        autoFocus
      />
      <span>of {points(requirement.of)}, since</span>
      <TextInput
        label="Reason"
        value={reason}
        onCommit={setReason}
        onDraft={setReason}
        maxLength={1000}
        placeholder="why, in a sentence"
      />
      <Button type="submit" variant="contained" size="small" disabled={!isReady || decisions.isBusy}>
        Give
      </Button>
      <Button size="small" onClick={onDone}>
        Leave as it is
      </Button>
    </Box>
  );
}

/** Two ways to decide a fact that is not certain; and where its like stands in the whole class, for all of them. */
export function DecideFact({
  requirement,
  item,
  decisions,
  isFirst,
}: {
  requirement: string;
  item: Item;
  decisions: Decisions;
  /** The keys decide this one. */
  isFirst: boolean;
}) {
  const { key, code } = item;
  if (key === undefined || !decisions.isMine) return null;
  const decide = (isMet: boolean): void =>
    decisions.decide({ requirement, item: key, isMet, points: null, reason: '' });
  return (
    <>
      <Small isBusy={decisions.isBusy} onClick={() => decide(true)}>
        {isFirst && <Key id="fact-holds" keys="Y" />} Met
      </Small>
      <Small isBusy={decisions.isBusy} onClick={() => decide(false)}>
        {isFirst && <Key id="fact-fails" keys="N" />} Not met
      </Small>
      {item.proposed && code !== undefined && (
        <Small isBusy={decisions.isBusy} onClick={() => decisions.acceptForAll(requirement, code)}>
          {isFirst && <Key id="fact-fails-all" keys="Shift N" />} Not met, for the whole class
        </Small>
      )}
    </>
  );
}

function Small({ isBusy, onClick, children }: { isBusy: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <Button size="small" variant="outlined" disabled={isBusy} onClick={onClick} sx={{ minHeight: 24, py: 0, gap: 0.5 }}>
      {children}
    </Button>
  );
}

/** What was decided of a requirement, each in a line; what holds no longer is kept beneath. */
export function DecisionLines({ requirement, decisions }: { requirement: RequirementResult; decisions: Decisions }) {
  const own = decisions.list.filter((decision) => decision.requirement === requirement.id);
  const [now, before] = [own.filter(({ ended }) => !ended), own.filter(({ ended }) => ended)];
  if (!own.length) return null;
  const words = (decision: DecisionView): string => {
    const fact = requirement.items.find(({ key }) => key === decision.item)?.text;
    const what =
      decision.item === null
        ? `gave ${points(decision.points!)} of ${points(requirement.of)}`
        : `decided “${decision.isMet ? 'met' : 'not met'}”${fact === undefined ? '' : ` of “${fact}”`}`;
    return `${decision.by} ${what}${decision.reason && `: ${decision.reason}`}`;
  };
  return (
    <Box component="ul" aria-label="Decisions" sx={{ listStyle: 'none', m: 0, mb: 1, p: 0 }}>
      {now.map((decision) => (
        <Box component="li" key={decision.id} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
          <span style={{ flex: '1 1 200px', overflowWrap: 'anywhere' }}>
            {words(decision)}
            {!decision.holds && (
              <b style={{ color: 'var(--ochre-text)' }}>
                {' '}
                It was made for version {decision.version ?? 'of another lab'}, which asked something else: it does not
                count.
              </b>
            )}
          </span>
          <Typography component="span" variant="body2" color="text.secondary">
            {when(decision.at)}
          </Typography>
          {decisions.isMine && (
            <Button
              size="small"
              disabled={decisions.isBusy}
              onClick={() => decisions.takeBack(decision.id)}
              sx={{ minHeight: 24, py: 0 }}
            >
              Take back
            </Button>
          )}
        </Box>
      ))}
      {before.length > 0 && (
        <li>
          <details>
            <summary>{before.length === 1 ? 'One decision before' : `${before.length} decisions before`}</summary>
            {before.map((decision) => (
              <Typography key={decision.id} variant="body2" color="text.secondary">
                {when(decision.at)}: {words(decision)}; until {when(decision.ended!.at)}, {decision.ended!.by}
              </Typography>
            ))}
          </details>
        </li>
      )}
    </Box>
  );
}
