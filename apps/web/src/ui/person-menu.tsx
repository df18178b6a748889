import { IconButton, ListSubheader, Menu, MenuItem } from '@mui/material';
import { type MouseEvent, type ReactNode, useState } from 'react';
import { useNavigate } from 'react-router';
import { PasswordDialog } from '../account/password-dialog';
import { api } from '../api/client';
import { queryClient, useMe } from '../api/queries';
import { closeUnsent } from '../documents/unsent';
import { Initials, initialsOf } from './initials';
import { Key } from './keys/key';
import { useKeysShown } from './keys/page-keys';
import { lazyPart } from './lazy-part';
import { usePreferences } from './preferences';

const SessionsDialog = lazyPart(() => import('../account/sessions-dialog'));
const SecondFactorDialog = lazyPart(() => import('../account/second-factor-dialog'));

type Opened = 'password' | 'sessions' | 'second-factor';

/** Who is signed in, and behind it: theme, keys, password, where one is signed in, and signing out. */
export function PersonMenu() {
  const me = useMe();
  const navigate = useNavigate();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [opened, setOpened] = useState<Opened | null>(null);
  const { scheme, toggleScheme } = usePreferences();
  const name = me.data?.name ?? '';
  const showKeys = useKeysShown((state) => state.show);
  const close = (): void => setAnchor(null);
  const closeDialog = (): void => setOpened(null);
  const signOut = async (): Promise<void> => {
    await closeUnsent();
    await api('POST auth/sign-out');
    queryClient.clear();
    await navigate('/sign-in');
  };
  const line = (text: string, run: () => void, key?: ReactNode) => (
    <MenuItem
      key={text}
      // The second half of a double click was meant for what stood here before.
      onClick={({ detail }: MouseEvent) => {
        if (detail > 1) return;
        close();
        run();
      }}
      sx={{ gap: 3, justifyContent: 'space-between' }}
    >
      {text}
      {key}
    </MenuItem>
  );
  return (
    <>
      <IconButton
        size="small"
        aria-label={`Signed in as ${name} (${initialsOf(name)}): settings`}
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <Initials name={name} />
      </IconButton>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={close}
        slotProps={{ list: { 'aria-label': 'Your settings' } }}
      >
        {/* No line of the menu: the keys go past it. */}
        <ListSubheader sx={{ lineHeight: '18px', pb: 1, color: 'var(--ink)', borderBottom: '1px solid var(--line)' }}>
          <b>{name}</b>
          <br />
          signed in
        </ListSubheader>
        {line(scheme === 'light' ? 'Dark theme' : 'Light theme', toggleScheme)}
        {line('Keys…', () => showKeys(true), <Key id="keys" keys="?" />)}
        {line('Change your password…', () => setOpened('password'))}
        {line('Where you are signed in…', () => setOpened('sessions'))}
        {me.data?.mayCreateCourses && line('Second factor…', () => setOpened('second-factor'))}
        {line('Sign out', () => void signOut())}
      </Menu>
      <PasswordDialog open={opened === 'password'} onClose={closeDialog} />
      {opened === 'second-factor' && <SecondFactorDialog onClose={closeDialog} />}
      {opened === 'sessions' && <SessionsDialog onClose={closeDialog} />}
    </>
  );
}
