import { Alert, Button, Snackbar } from '@mui/material';
import { type ComponentType, useEffect, useState } from 'react';

/**
 * A part of a page whose script comes when it is first shown, or when it is asked for ahead. Once it is there it is shown
 * at once. Without a connection nothing breaks: a sentence says so, and it can be tried again.
 */
export function lazyPart<P extends object>(load: () => Promise<{ default: ComponentType<P> }>) {
  let loaded: ComponentType<P> | null = null;
  const get = async (): Promise<ComponentType<P>> => (loaded ??= (await load()).default);
  function LazyPart(props: P) {
    const [Shown, setShown] = useState<ComponentType<P> | null>(() => loaded);
    const [failed, setFailed] = useState(false);
    useEffect(() => {
      if (Shown || failed) return;
      let isWanted = true;
      void get().then(
        (part) => isWanted && setShown(() => part),
        () => isWanted && setFailed(true),
      );
      return () => {
        isWanted = false;
      };
    }, [Shown, failed]);
    if (Shown) return <Shown {...props} />;
    return failed ? <NotLoaded onRetry={() => setFailed(false)} /> : null;
  }
  return Object.assign(LazyPart, {
    /** Asks for the script before it is needed; a failure is told when the part is shown. */
    ahead: (): void => void get().catch(() => undefined),
  });
}

const NotLoaded = ({ onRetry }: { onRetry: () => void }) => (
  <Snackbar open anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
    <Alert
      severity="warning"
      action={
        <Button size="small" color="inherit" onClick={onRetry}>
          Try again
        </Button>
      }
    >
      This part of the page could not be loaded: there is no connection. Your work is kept.
    </Alert>
  </Snackbar>
);
