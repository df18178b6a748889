import { Navigate, Outlet, useLocation } from 'react-router';
import { useMe } from '../api/queries';
import { Failure, Waiting } from '../ui/states';
import { PageKeys } from '../ui/keys/page-keys';
import { SessionEnded } from './session-ended';

/** Lets in who is signed in, and sends others to the sign-in page and back. */
export function Gate() {
  const me = useMe();
  const { pathname } = useLocation();
  if (me.isPending) return <Waiting what="Opening Sobrin" />;
  if (me.isError) return <Failure error={me.error} onAgain={() => void me.refetch()} />;
  return me.data ? (
    <>
      <Outlet />
      <PageKeys />
      <SessionEnded />
    </>
  ) : (
    <Navigate to="/sign-in" state={{ from: pathname }} replace />
  );
}
