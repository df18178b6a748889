import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { api } from '../api/client';
import { closeUnsent } from '../documents/unsent';
import { Mark } from '../ui/mark';
import { Failure, Waiting } from '../ui/states';
import { usePageTitle } from '../ui/announce';

/** Where somebody chooses a password, with an address that is good once. */
export function EnterPage() {
  usePageTitle('Your account');
  const token = useLocation().hash.slice(1);
  const navigate = useNavigate();
  const [password, setPassword] = useState('');
  const owner = useQuery({
    queryKey: ['link', token],
    queryFn: () => api('POST auth/link', {}, { token }),
    enabled: token !== '',
    retry: false,
    gcTime: 0,
  });
  const client = useQueryClient();
  // Somebody else may be signed in here: what they have not sent is sent as theirs, and nothing of theirs is shown on.
  const enter = useMutation({
    mutationFn: async () => {
      await closeUnsent();
      return api('POST auth/enter', {}, { token, password });
    },
    onSuccess: () => {
      client.clear();
      void navigate('/', { replace: true });
    },
  });
  if (owner.isLoading) return <Waiting what="Looking whose address this is" />;
  return (
    <Box component="main" sx={{ minHeight: '100%', display: 'grid', placeItems: 'center', p: 3 }}>
      <Stack spacing={2} sx={{ width: '100%', maxWidth: 360 }}>
        <Mark size={44} />
        {owner.data ? (
          <Stack
            spacing={2}
            component="form"
            onSubmit={(event) => {
              event.preventDefault();
              enter.mutate();
            }}
          >
            <Box>
              <Typography variant="h1" sx={{ fontSize: 26, lineHeight: '32px' }}>
                {owner.data.name}
              </Typography>
              <Typography color="text.secondary">
                Choose a password. From then on you sign in with it and the name below.
              </Typography>
            </Box>
            <TextField
              label="Sign-in name"
              autoComplete="username"
              value={owner.data.login}
              slotProps={{ input: { readOnly: true } }}
            />
            <TextField
              autoFocus
              type="password"
              label="New password"
              autoComplete="new-password"
              helperText="At least 10 characters; four words are a good one"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
            <Button type="submit" variant="contained" size="large" disabled={password.length < 10 || enter.isPending}>
              Choose it and sign in
            </Button>
            {enter.isError && <Failure error={enter.error} />}
          </Stack>
        ) : (
          <>
            <Typography variant="h1" sx={{ fontSize: 26, lineHeight: '32px' }}>
              Choose a password
            </Typography>
            {owner.isError ? (
              <Failure error={owner.error} />
            ) : (
              <Typography>This address is not whole: open it as it was given to you, to its last letter.</Typography>
            )}
            <Button component={Link} to="/sign-in" variant="outlined" sx={{ alignSelf: 'flex-start' }}>
              To the sign-in
            </Button>
          </>
        )}
      </Stack>
    </Box>
  );
}
