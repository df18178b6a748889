import { Box, Button, Stack, Typography } from '@mui/material';
import { type Starter, STARTERS } from '@sobrin/core';
import { Empty } from '../ui/parts';

/** What stands on a drawing without devices: how to begin. `onStart` is null where the lab's kit does not have everything. */
export const BlankSheet = ({ onAdd, onStart }: { onAdd: () => void; onStart: ((starter: Starter) => void) | null }) => (
  <Box sx={{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'center', pointerEvents: 'none' }}>
    <Box sx={{ pointerEvents: 'auto' }}>
      <Empty
        title="An empty sheet"
        action={
          <Button variant="contained" onClick={onAdd}>
            Add the first device
          </Button>
        }
      >
        Type what you want into the field above (<kbd>/</kbd>), for instance <i>switch 20 x3</i> or{' '}
        <i>link PC-1 SW-1</i>, or take devices from the kit (<kbd>A</kbd>). Everything is saved at once.
      </Empty>
      {onStart && (
        <Box sx={{ textAlign: 'center', maxWidth: 640 }}>
          <Typography color="text.secondary" sx={{ mb: 1 }}>
            Or begin with a small network that works already:
          </Typography>
          <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap', justifyContent: 'center' }}>
            {STARTERS.map((one) => (
              <Button
                key={one.id}
                variant="outlined"
                onClick={() => onStart(one)}
                sx={{ display: 'block', textAlign: 'left', lineHeight: 1.35, py: 0.75 }}
              >
                {one.name}
                <Typography component="span" variant="body2" color="text.secondary" sx={{ display: 'block' }}>
                  {one.use}
                </Typography>
              </Button>
            ))}
          </Stack>
        </Box>
      )}
    </Box>
  </Box>
);
