import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { type CodeWanted, type DemoPerson } from '@sobrin/contracts';
import { useState } from 'react';
import { Navigate, useLocation } from 'react-router';
import { ApiError, api } from '../api/client';
import { useChange, useDemoPeople, useMe } from '../api/queries';
import { CodeField } from './code-field';
import { Mark } from '../ui/mark';
import { Failure } from '../ui/states';

export function SignIn() {
  const me = useMe();
  const from = (useLocation().state as { from?: string } | null)?.from ?? '/';
  const [login, setLogin] = useState('');
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const signIn = useChange(
    (body: { login: string; password: string; code?: string }) => api('POST auth/sign-in', {}, body),
    ['me'],
  );
  /** Whether a code was asked for with what is typed. */
  const [needsCode, setNeedsCode] = useState(false);
  const typed = (set: (text: string) => void) => (event: { target: { value: string } }) => {
    set(event.target.value);
    setNeedsCode(false);
    setCode('');
  };
  const demoSignIn = useChange((who: string) => api('POST auth/demo-sign-in', {}, { login: who }), ['me']);
  const demo = useDemoPeople();
  if (me.data) return <Navigate to={from} replace />;
  const error = signIn.error ?? demoSignIn.error;
  return (
    <Box component="main" sx={{ minHeight: '100%', display: 'grid', placeItems: 'center', p: 3 }}>
      <Stack direction={{ xs: 'column', md: 'row' }} spacing={6} sx={{ width: '100%', maxWidth: 920 }}>
        <Stack
          spacing={2}
          component="form"
          sx={{ flex: '0 0 320px' }}
          onSubmit={(event) => {
            event.preventDefault();
            signIn.mutate(
              { login, password, ...(needsCode && { code: code.trim() }) },
              { onError: (error) => isCodeWanted(error) && setNeedsCode(true) },
            );
          }}
        >
          <Mark size={44} />
          <Box>
            <Typography variant="h1" sx={{ fontSize: 26, lineHeight: '32px' }}>
              Sobrin
            </Typography>
            <Typography color="text.secondary">Networking labs: designed, built, checked, explained.</Typography>
          </Box>
          <TextField label="Sign-in name" autoComplete="username" autoFocus value={login} onChange={typed(setLogin)} />
          <TextField
            label="Password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={typed(setPassword)}
          />
          {needsCode && <CodeField value={code} onChange={setCode} />}
          <Button
            type="submit"
            variant="contained"
            size="large"
            disabled={!login || !password || (needsCode && code.trim().length < 6) || signIn.isPending}
          >
            Sign in
          </Button>
          {isCodeWanted(error) ? (
            <Typography role="status">{error.message}</Typography>
          ) : (
            error && <Failure error={error} />
          )}
        </Stack>
        {demo.data && demo.data.length > 0 && (
          <DemoPeople people={demo.data} onPick={(who) => demoSignIn.mutate(who)} />
        )}
      </Stack>
    </Box>
  );
}

const isCodeWanted = (error: unknown): error is ApiError =>
  error instanceof ApiError && (error.body as Partial<CodeWanted> | null)?.needsCode === true;

function DemoPeople({ people, onPick }: { people: DemoPerson[]; onPick: (login: string) => void }) {
  const group = (role: DemoPerson['role']) => people.filter((person) => person.role === role);
  const button = (person: DemoPerson) => (
    <Button
      key={person.login}
      variant="outlined"
      onClick={() => onPick(person.login)}
      sx={{ justifyContent: 'flex-start' }}
    >
      {person.name}
    </Button>
  );
  return (
    <Stack
      spacing={1.5}
      component="section"
      aria-label="Demo people"
      sx={{ flex: 1, borderLeft: { md: '1px solid var(--line)' }, pl: { md: 6 } }}
    >
      <Box>
        <Typography variant="h2">Look round in the demo</Typography>
        <Typography color="text.secondary">Kestrel Ridge, a mountain cableway: be one of its people.</Typography>
      </Box>
      <Typography variant="h3">Instructor</Typography>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'repeat(auto-fill, minmax(150px, 1fr))' }}>
        {group('instructor').map(button)}
      </Box>
      <Typography variant="h3">Students</Typography>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'repeat(auto-fill, minmax(150px, 1fr))' }}>
        {group('student').map(button)}
      </Box>
    </Stack>
  );
}
