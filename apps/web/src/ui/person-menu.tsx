import { IconDevices, IconKey, IconLogout, IconMoon, IconShieldLock, IconSun } from '@tabler/icons-react';
import { IconButton, Tooltip } from '@mui/material';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { PasswordDialog } from '../account/password-dialog';
import { api } from '../api/client';
import { queryClient, useMe } from '../api/queries';
import { closeUnsent } from '../documents/unsent';
import { Initials } from './initials';
import { lazyPart } from './lazy-part';
import { usePreferences } from './preferences';

const SessionsDialog = lazyPart(() => import('../account/sessions-dialog'));
const SecondFactorDialog = lazyPart(() => import('../account/second-factor-dialog'));

/** Theme, password, where one is signed in, who is signed in, and signing out. */
export function PersonMenu({ vertical = false }: { vertical?: boolean }) {
  const me = useMe();
  const navigate = useNavigate();
  const [changing, setChanging] = useState(false);
  const [listing, setListing] = useState(false);
  const [securing, setSecuring] = useState(false);
  const { scheme, toggleScheme } = usePreferences();
  const signOut = async (): Promise<void> => {
    await closeUnsent();
    await api('POST auth/sign-out');
    queryClient.clear();
    await navigate('/sign-in');
  };
  return (
    <div style={{ display: 'flex', flexDirection: vertical ? 'column' : 'row', alignItems: 'center', gap: 4 }}>
      <Tooltip title={scheme === 'light' ? 'Dark theme' : 'Light theme'} placement={vertical ? 'right' : 'bottom'}>
        <IconButton size="small" aria-label={scheme === 'light' ? 'Dark theme' : 'Light theme'} onClick={toggleScheme}>
          {scheme === 'light' ? <IconMoon size={18} /> : <IconSun size={18} />}
        </IconButton>
      </Tooltip>
      <Tooltip title="Change your password" placement={vertical ? 'right' : 'bottom'}>
        <IconButton size="small" aria-label="Change your password" onClick={() => setChanging(true)}>
          <IconKey size={18} />
        </IconButton>
      </Tooltip>
      <PasswordDialog open={changing} onClose={() => setChanging(false)} />
      <Tooltip title="Where you are signed in" placement={vertical ? 'right' : 'bottom'}>
        <IconButton size="small" aria-label="Where you are signed in" onClick={() => setListing(true)}>
          <IconDevices size={18} />
        </IconButton>
      </Tooltip>
      {me.data?.mayCreateCourses && (
        <Tooltip title="Second factor" placement={vertical ? 'right' : 'bottom'}>
          <IconButton size="small" aria-label="Second factor" onClick={() => setSecuring(true)}>
            <IconShieldLock size={18} />
          </IconButton>
        </Tooltip>
      )}
      {securing && <SecondFactorDialog onClose={() => setSecuring(false)} />}
      {listing && <SessionsDialog onClose={() => setListing(false)} />}
      <Tooltip title={`Sign out ${me.data?.name ?? ''}`} placement={vertical ? 'right' : 'bottom'}>
        <IconButton
          size="small"
          aria-label="Sign out"
          // The second half of a double click was meant for what stood here before, and led to this page.
          onClick={({ detail }) => void (detail < 2 && signOut())}
        >
          <IconLogout size={18} />
        </IconButton>
      </Tooltip>
      <Tooltip title={me.data?.name ?? ''} placement={vertical ? 'right' : 'bottom'}>
        <span>
          <Initials name={me.data?.name ?? ''} label={`Signed in as ${me.data?.name ?? ''}`} />
        </span>
      </Tooltip>
    </div>
  );
}
