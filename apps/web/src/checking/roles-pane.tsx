import { Box, Button, Typography } from '@mui/material';
import { instancesOf } from '@sobrin/core/engine';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useMemo } from 'react';
import { Choice } from '../ui/fields';
import { type Decisions } from './use-decisions';

type Match = CheckResult['matching'][number];

/** How sure it is, in words. */
function sureWords({ device, sure, also = [], pinned, with: helpers = [] }: Match): string {
  if (device === null) return 'nobody';
  if (pinned) return 'as you said';
  const together = helpers.length
    ? `, together with ${helpers.length === 1 ? 'one more' : `${helpers.length} more`}`
    : '';
  if (sure === 'unsure') return `one of ${also.length + 1}${together}`;
  return `${sure ?? 'likely'}${together}`;
}

/** Who plays which role of the reference; a person may say otherwise, and the submission is judged by that from then on. */
export function RolesPane({
  result,
  reference,
  drawing,
  decisions,
}: {
  result: CheckResult;
  reference: Topology;
  drawing: Topology;
  decisions: Decisions;
}) {
  const [roles, devices] = useMemo(() => [instancesOf(reference), instancesOf(drawing)], [reference, drawing]);
  const playing = useMemo(
    () => new Map(result.matching.flatMap(({ role, device }) => (device === null ? [] : [[device, role] as const]))),
    [result],
  );
  const nameOf = (role: string): string => roles.get(role)?.name ?? role;
  // Those that want a look come first.
  const order = (match: Match): number =>
    match.pinned ? 1 : match.device === null || match.sure === 'unsure' ? 0 : match.sure === 'likely' ? 2 : 3;
  const list = [...result.matching].sort(
    (one, other) =>
      order(one) - order(other) || nameOf(one.role).localeCompare(nameOf(other.role), 'en', { numeric: true }),
  );
  const options = [...devices.values()].sort((one, other) =>
    one.name.localeCompare(other.name, 'en', { numeric: true }),
  );
  return (
    <Box sx={{ overflow: 'auto', flex: 1, px: 1.5, py: 1 }}>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
        Which device of the drawing plays the part of which device of the reference. What you choose stays, and the
        submission is checked by it.
      </Typography>
      <Box
        component="ul"
        aria-label="Who plays which role"
        sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', rowGap: '6px' }}
      >
        {list.map((match) => {
          const name = nameOf(match.role);
          const asked = [match.device, ...(match.also ?? [])];
          return (
            <Box
              component="li"
              key={match.role}
              sx={{
                display: 'grid',
                gridTemplateColumns: 'minmax(72px, 1fr) minmax(96px, 1.4fr) minmax(72px, auto)',
                gap: 1,
                alignItems: 'center',
              }}
            >
              <b style={{ overflowWrap: 'anywhere' }}>{name}</b>
              {decisions.isMine ? (
                <Choice
                  label={`Plays ${name}`}
                  value={match.device ?? ''}
                  disabled={decisions.isBusy}
                  options={[
                    { value: '', text: 'nobody', disabled: true },
                    ...options.map(({ id, name: own }) => {
                      const other = playing.get(id);
                      const why = asked.includes(id) || other === undefined ? '' : ` (now ${nameOf(other)})`;
                      return { value: id, text: `${own}${why}` };
                    }),
                  ]}
                  onChange={(device) => device && decisions.pin({ role: match.role, device })}
                />
              ) : (
                <span>{devices.get(match.device ?? '')?.name ?? 'nobody'}</span>
              )}
              {match.pinned && decisions.isMine ? (
                <Button
                  size="small"
                  disabled={decisions.isBusy}
                  onClick={() => decisions.pin({ role: match.role, device: null })}
                  sx={{ minHeight: 24, py: 0 }}
                  aria-label={`Let it be found who plays ${name}`}
                >
                  Unpin
                </Button>
              ) : match.device !== null && match.sure !== 'sure' && decisions.isMine ? (
                <Button
                  size="small"
                  disabled={decisions.isBusy}
                  onClick={() => decisions.pin({ role: match.role, device: match.device })}
                  sx={{ minHeight: 24, py: 0 }}
                  aria-label={`Pin ${name} as it is: ${sureWords(match)}`}
                >
                  {sureWords(match)}: pin
                </Button>
              ) : (
                <Typography variant="body2" color="text.secondary">
                  {sureWords(match)}
                </Typography>
              )}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
