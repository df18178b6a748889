import { Box, Button, Typography } from '@mui/material';
import { type Drill, type Spec } from '@sobrin/core/spec';
import { points } from '../ui/words';
import { Head } from './missed-list';
import { oddPrices } from './findings';

/** Where a right drawing would lose points, what parts of the lab earn, and prices out of proportion. */
export function Alarms({
  found,
  spec,
  mayEdit,
  onMeant,
}: {
  found: Drill;
  spec: Spec;
  mayEdit: boolean;
  onMeant: (way: string, requirement: string) => void;
}) {
  const isMeant = (way: string, id: string): boolean =>
    (spec.meant ?? []).some((each) => each.way === way && each.requirement === id);
  const alarms = new Map<string, { way: string; text: string; id: string; said: string }>();
  for (const { operator, text, requirements } of found.variations)
    for (const { id, text: said } of requirements)
      if (!isMeant(operator, id)) alarms.set(`${operator} ${id}`, { way: operator, text, id, said });
  const prices = oddPrices(found.faults, found.of).slice(0, 6);
  return (
    <Box
      component="section"
      aria-label="False alarms"
      sx={{ flex: '1 1 0', minWidth: 0, borderLeft: '1px solid var(--line)', display: 'flex', flexDirection: 'column' }}
    >
      <Head
        title={alarms.size ? `${alarms.size} false ${alarms.size === 1 ? 'alarm' : 'alarms'}` : 'No false alarm'}
        aside={`${found.variations.length} right drawings`}
      />
      <Box
        tabIndex={0}
        role="group"
        aria-label="What else the drill says"
        sx={{ px: 2, py: 1, overflow: 'auto', flex: 1 }}
      >
        {[...alarms.values()].map(({ way, text, id, said }) => (
          <Box key={`${way} ${id}`} sx={{ mb: 1.5 }}>
            <Typography variant="body2">
              <b>{text}</b>, else the same: right, and it loses
            </Typography>
            <Box sx={{ borderLeft: '3px solid var(--ochre)', pl: 1, my: 0.5, overflowWrap: 'anywhere' }}>
              <b className="mono">{id}</b> {said}
            </Box>
            {mayEdit && (
              <Button size="small" variant="outlined" onClick={() => onMeant(way, id)} sx={{ minHeight: 24, py: 0 }}>
                Meant so
              </Button>
            )}
          </Box>
        ))}
        <Typography variant="body2" component="h3" sx={{ fontWeight: 700, mt: alarms.size ? 2 : 0, mb: 0.5 }}>
          What part of the lab earns
        </Typography>
        {found.halves.map(({ what, points: won }) => (
          <Line key={what} text={what} value={`${points(won)} of ${points(found.of)}`} />
        ))}
        {found.cheapest && <Line text={`without ${found.cheapest.without.join(', ')}`} value="full mark" />}
        {prices.length > 0 && (
          <>
            <Typography variant="body2" component="h3" sx={{ fontWeight: 700, mt: 2, mb: 0.5 }}>
              Odd prices: over 15 % or under 1 % of the mark
            </Typography>
            {prices.map(({ text, cost, costOnce }) => (
              <Line
                key={text}
                text={text}
                value={costOnce === undefined ? points(cost) : `${points(costOnce)} (${points(cost)})`}
              />
            ))}
          </>
        )}
        {found.pairs.hidden.map(({ texts }) => (
          <Typography key={texts.join()} variant="body2" sx={{ mt: 1 }}>
            Each is noticed, together they are not: {texts.join(' And: ')}
          </Typography>
        ))}
        <Typography variant="body2" color="text.secondary" sx={{ mt: 2 }}>
          Not planted yet: {found.notPlanted.join('; ')}.
        </Typography>
      </Box>
    </Box>
  );
}

const Line = ({ text, value }: { text: string; value: string }) => (
  <Box sx={{ display: 'flex', gap: 1, justifyContent: 'space-between', py: '2px' }}>
    <span style={{ overflowWrap: 'anywhere' }}>{text}</span>
    <span className="mono" style={{ whiteSpace: 'nowrap' }}>
      {value}
    </span>
  </Box>
);
