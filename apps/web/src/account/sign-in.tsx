import { Box, Button, Stack, Typography } from '@mui/material';
import { type DemoPerson } from '@sobrin/contracts';
import { Navigate, useLocation } from 'react-router';
import { api } from '../api/client';
import { useChange, useDemoPeople, useMe } from '../api/queries';
import { sessionEnded } from '../api/session';
import { Mark } from '../ui/mark';
import { SignInForm } from './sign-in-form';
import { usePageTitle } from '../ui/announce';

export function SignIn() {
  usePageTitle('Sign in');
  const me = useMe();
  const from = (useLocation().state as { from?: string } | null)?.from ?? '/';
  const demoSignIn = useChange(
    async (who: string) => {
      await api('POST auth/demo-sign-in', {}, { login: who });
      sessionEnded(false);
    },
    ['me'],
  );
  const demo = useDemoPeople();
  if (me.data) return <Navigate to={from} replace />;
  return (
    <Box component="main" sx={{ minHeight: '100%', display: 'grid', placeItems: 'center', p: 3 }}>
      <Stack direction={{ xs: 'column', md: 'row' }} spacing={6} sx={{ width: '100%', maxWidth: 920 }}>
        <SignInForm error={demoSignIn.error}>
          <Mark size={44} />
          <Box>
            <Typography variant="h1" sx={{ fontSize: 26, lineHeight: '32px' }}>
              Sobrin
            </Typography>
            <Typography color="text.secondary">Networking labs: designed, built, checked, explained.</Typography>
          </Box>
        </SignInForm>
        {demo.data && demo.data.length > 0 && (
          <DemoPeople people={demo.data} onPick={(who) => demoSignIn.mutate(who)} />
        )}
      </Stack>
    </Box>
  );
}

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
