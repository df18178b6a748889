import { Box, Button, Stack, Typography } from '@mui/material';
import { type Starter, STARTERS } from '@sobrin/core/bench';
import { type KitLimits, kitRefusalOf } from '@sobrin/core/editing';
import { emptyTopology } from '@sobrin/core/topology';
import { useMemo } from 'react';
import { Empty } from '../../ui/states';
import { Key } from '../../ui/keys/key';

/** What stands on a drawing without devices: how to begin, with what the lab's kit has. */
export default function BlankSheet({
  kit,
  onAdd,
  onStart,
  onBegin,
  onPlan,
}: {
  /** Absent for everything. */
  kit: KitLimits | undefined;
  onAdd: () => void;
  onStart: (starter: Starter) => void;
  /** Beginning from another lab; null where that is not to be done. */
  onBegin: (() => void) | null;
  /** Taking subnets of the plan; null where it has none. */
  onPlan: (() => void) | null;
}) {
  const starters = useMemo(
    () => STARTERS.filter((starter) => kitRefusalOf(emptyTopology(), starter.make(), kit) === null),
    [kit],
  );
  return (
    <Box
      sx={{
        position: 'absolute',
        inset: 0,
        display: 'grid',
        gridTemplate: 'minmax(0, 1fr) / minmax(0, auto)',
        placeContent: 'center',
        alignItems: 'center',
        pointerEvents: 'none',
      }}
    >
      {/* Sites, a legend or a picture may stand beneath: what is said here stays readable. */}
      <Box
        sx={{
          pointerEvents: 'auto',
          maxHeight: '100%',
          overflowY: 'auto',
          px: 3,
          pb: 2,
          border: '1px solid var(--line)',
          borderRadius: '12px',
          background: 'var(--surface)',
        }}
      >
        <Empty
          title="An empty sheet"
          action={
            <Stack direction="row" spacing={1} sx={{ justifyContent: 'center' }}>
              <Button variant="contained" onClick={onAdd}>
                Add the first device
              </Button>
              {onPlan && (
                <Button variant="outlined" onClick={onPlan}>
                  Take it from the plan
                </Button>
              )}
            </Stack>
          }
        >
          Type what you want into the field above
          <Key id="command" keys="/" inBrackets />, for instance <i>switch 20 x3</i> or <i>link PC-1 SW-1</i>, or take
          devices from the kit
          <Key id="kit" keys="A" inBrackets />. Everything is saved at once.
        </Empty>
        {starters.length > 0 && (
          <Box sx={{ textAlign: 'center', maxWidth: 640 }}>
            <Typography color="text.secondary" sx={{ mb: 1 }}>
              Or begin with a small network that works already:
            </Typography>
            <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap', justifyContent: 'center' }}>
              {starters.map((starter) => (
                <Button
                  key={starter.id}
                  variant="outlined"
                  onClick={() => onStart(starter)}
                  sx={{ display: 'block', textAlign: 'left', lineHeight: 1.35, py: 0.75 }}
                >
                  {starter.name}
                  <Typography component="span" variant="body2" color="text.secondary" sx={{ display: 'block' }}>
                    {starter.use}
                  </Typography>
                </Button>
              ))}
            </Stack>
          </Box>
        )}
        {onBegin && (
          <Box sx={{ textAlign: 'center', mt: 1.5 }}>
            <Button onClick={onBegin}>Or from another lab…</Button>
          </Box>
        )}
      </Box>
    </Box>
  );
}
