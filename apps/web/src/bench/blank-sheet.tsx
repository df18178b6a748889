import { Box, Button } from '@mui/material';
import { Empty } from '../ui/parts';

/** What stands on a drawing without devices: how to begin. */
export const BlankSheet = ({ onAdd }: { onAdd: () => void }) => (
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
    </Box>
  </Box>
);
