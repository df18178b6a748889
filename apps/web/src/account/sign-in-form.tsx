import { Button, Stack, TextField, Typography } from '@mui/material';
import { type CodeWanted } from '@sobrin/contracts';
import { type ReactNode, useId, useState } from 'react';
import { ApiError, api } from '../api/client';
import { useChange } from '../api/queries';
import { sessionEnded } from '../api/session';
import { Failure } from '../ui/states';
import { CodeField } from './code-field';

/** Sign-in name, password, and the code of a second factor where one is asked for. `error` is what another way of signing in said. */
export function SignInForm({
  login: known = '',
  error: other = null,
  onDone,
  children,
}: {
  login?: string;
  error?: Error | null;
  /** Somebody has signed in; what follows waits for it. */
  onDone?: () => Promise<void>;
  children?: ReactNode;
}) {
  const [login, setLogin] = useState(known);
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const signIn = useChange(
    async (body: { login: string; password: string; code?: string }) => {
      await api('POST auth/sign-in', {}, body);
      await onDone?.();
      sessionEnded(false);
    },
    ['me'],
  );
  /** Whether a code was asked for with what is typed. */
  const [needsCode, setNeedsCode] = useState(false);
  const typed = (set: (text: string) => void) => (event: { target: { value: string } }) => {
    set(event.target.value);
    setNeedsCode(false);
    setCode('');
  };
  const error = signIn.error ?? other;
  const isRefused = error !== null && !isCodeWanted(error);
  const problemId = useId();
  return (
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
      {children}
      <TextField
        label="Sign-in name"
        autoComplete="username"
        autoFocus={known === ''}
        value={login}
        onChange={typed(setLogin)}
        error={isRefused}
        slotProps={{ htmlInput: { 'aria-describedby': isRefused ? problemId : undefined } }}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        autoFocus={known !== ''}
        value={password}
        onChange={typed(setPassword)}
        error={isRefused}
        slotProps={{ htmlInput: { 'aria-describedby': isRefused ? problemId : undefined } }}
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
        error && (
          <div id={problemId}>
            <Failure error={error} />
          </div>
        )
      )}
    </Stack>
  );
}

const isCodeWanted = (error: unknown): error is ApiError =>
  error instanceof ApiError && (error.body as Partial<CodeWanted> | null)?.needsCode === true;
