import { Box, TextField } from '@mui/material';
import { CopyButton } from './copy-button';

/** An address to hand on: to be read, marked and copied. */
export const AddressField = ({ address }: { address: string }) => (
  <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
    <TextField
      size="small"
      fullWidth
      label="Address"
      value={address}
      slotProps={{ htmlInput: { readOnly: true }, input: { className: 'mono' } }}
      onFocus={(event) => event.target.select()}
    />
    <CopyButton key={address} text={address} />
  </Box>
);
