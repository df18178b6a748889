import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { plural } from '@sobrin/core';
import { useQuery } from '@tanstack/react-query';
import { QRCodeSVG } from 'qrcode.react';
import { type FormEvent, type ReactNode, useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { CopyButton } from '../ui/copy-button';
import { Opened } from '../ui/opened';
import { Failure } from '../ui/states';
import { CodeField } from './code-field';

const FACTOR = ['second-factor'];

/** Sets up codes of a telephone beside the password, or ends that. */
export default function SecondFactorDialog({ onClose }: { onClose: () => void }) {
  const factor = useQuery({ queryKey: FACTOR, queryFn: () => api('GET auth/second-factor'), staleTime: 0 });
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Second factor</DialogTitle>
      <Opened query={factor} what="Looking whether it is on">
        {({ isOn, spareCodes }) =>
          isOn ? <End spareCodes={spareCodes} onClose={onClose} /> : <SetUp onClose={onClose} />
        }
      </Opened>
    </Dialog>
  );
}

/** A step of the dialog: what is to be known and typed, and what goes on with it. */
function Step({
  children,
  go,
  disabled,
  error,
  onGo,
  onClose,
}: {
  children: ReactNode;
  go: string;
  disabled: boolean;
  error: unknown;
  onGo: () => void;
  onClose: () => void;
}) {
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (!disabled) onGo();
  };
  return (
    <form onSubmit={submit}>
      <DialogContent>
        <Stack spacing={2}>
          {children}
          {error !== null && <Failure error={error} />}
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" variant="contained" disabled={disabled}>
          {go}
        </Button>
      </DialogActions>
    </form>
  );
}

function PasswordField({ value, onChange }: { value: string; onChange: (text: string) => void }) {
  return (
    <TextField
      autoFocus
      type="password"
      label="Your password"
      autoComplete="current-password"
      value={value}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}

function SetUp({ onClose }: { onClose: () => void }) {
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const begin = useChange(() => api('POST auth/second-factor', {}, { password }));
  const confirm = useChange(() => api('PUT auth/second-factor', {}, { code: code.trim() }));
  if (confirm.data) return <SpareCodes codes={confirm.data.spareCodes} onClose={onClose} />;
  if (!begin.data)
    return (
      <Step
        go="Set it up"
        disabled={!password || begin.isPending}
        error={begin.error}
        onGo={() => begin.mutate()}
        onClose={onClose}
      >
        <Typography>
          Beside your password Sobrin then asks for a code that a program on your telephone shows, a new one every half
          minute.
        </Typography>
        <PasswordField value={password} onChange={setPassword} />
      </Step>
    );
  const { secret, address } = begin.data;
  return (
    <Step
      go="Switch it on"
      disabled={code.trim().length < 6 || confirm.isPending}
      error={confirm.error}
      onGo={() => confirm.mutate()}
      onClose={onClose}
    >
      <Typography>Let the program on your telephone read this, or type the secret into it.</Typography>
      <Box sx={{ alignSelf: 'center', p: 1.5, background: '#fff', borderRadius: '8px' }}>
        <QRCodeSVG value={address} size={180} title="Secret for a program that makes codes" />
      </Box>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
        <Typography className="mono" sx={{ wordBreak: 'break-all', flex: 1 }}>
          {secret.match(/.{1,4}/g)!.join(' ')}
        </Typography>
        <CopyButton text={secret} name="the secret" />
      </Stack>
      <CodeField value={code} onChange={setCode} />
    </Step>
  );
}

function SpareCodes({ codes, onClose }: { codes: readonly string[]; onClose: () => void }) {
  return (
    <>
      <DialogContent>
        <Stack spacing={2}>
          <Typography role="status">Your second factor is on.</Typography>
          <Alert severity="warning" variant="outlined">
            Keep these spare codes where your telephone is not. Each signs you in once without it, and they are shown
            only now.
          </Alert>
          <Box
            component="ul"
            aria-label="Spare codes"
            className="mono"
            sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '4px 24px' }}
          >
            {codes.map((code) => (
              <li key={code}>{code}</li>
            ))}
          </Box>
          <Box sx={{ ml: -1 }}>
            <CopyButton text={codes.join('\n')} name="the spare codes" />
          </Box>
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={onClose}>
          I have kept them
        </Button>
      </DialogActions>
    </>
  );
}

function End({ spareCodes, onClose }: { spareCodes: number; onClose: () => void }) {
  const [password, setPassword] = useState('');
  const end = useChange(() => api('POST auth/second-factor/end', {}, { password }), FACTOR);
  return (
    <Step
      go="End it"
      disabled={!password || end.isPending}
      error={end.error}
      onGo={() => end.mutate(undefined, { onSuccess: onClose })}
      onClose={onClose}
    >
      <Typography>
        It is on, with {plural(spareCodes, 'spare code')} left. With another telephone, or when the spare codes run out,
        end it and set it up again.
      </Typography>
      <PasswordField value={password} onChange={setPassword} />
    </Step>
  );
}
