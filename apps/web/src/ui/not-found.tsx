import { Button } from '@mui/material';
import { Link, useRouteError } from 'react-router';
import { Empty, Failure } from './states';
import { usePageTitle } from './announce';

/** For an address that leads nowhere, and for a page that broke. */
export function NotFound() {
  usePageTitle('Not found');
  const error = useRouteError();
  if (error && !(error as { status?: number }).status)
    return <Failure error={error} onAgain={() => location.reload()} />;
  return (
    <Empty
      title="There is no such page"
      action={
        <Button component={Link} to="/" variant="contained">
          To your labs
        </Button>
      }
    >
      The address leads nowhere, or to something that is not yours to see.
    </Empty>
  );
}
