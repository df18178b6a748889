import { Box, Button } from '@mui/material';

/** What the next click does while links are made, and how to end that. */
export const LinkingLine = ({ names, onEnd }: { names: readonly string[]; onEnd: () => void }) => (
  <Box
    role="status"
    sx={{
      position: 'absolute',
      top: 10,
      left: '50%',
      transform: 'translateX(-50%)',
      display: 'flex',
      alignItems: 'center',
      gap: 1.5,
      px: 1.5,
      py: 0.5,
      borderRadius: '10px',
      border: '1.5px solid var(--spruce)',
      background: 'var(--surface)',
      whiteSpace: 'nowrap',
    }}
  >
    {names.length === 0 && <span>Click the first end of the next link</span>}
    {names.length === 1 && (
      <span>
        Link from <b>{names[0]}</b>: click the other end
      </span>
    )}
    {names.length > 1 && (
      <span>
        Link <b>{names.length} devices</b>: click the one they are all cabled to
      </span>
    )}
    <Button size="small" onClick={onEnd} sx={{ minHeight: 0 }}>
      End&nbsp;<kbd>Esc</kbd>
    </Button>
  </Box>
);
