import { type StudentLabView } from '@sobrin/contracts';
import { type ReactNode } from 'react';
import { useParams } from 'react-router';
import { useMyLab } from '../api/queries';
import { Opened } from '../ui/opened';

/** Loads the lab of the address as its student sees it, then shows what is made from it. */
export function WithLab({ children }: { children: (lab: StudentLabView) => ReactNode }) {
  const { labId } = useParams();
  const lab = useMyLab(labId!);
  return (
    <Opened query={lab} what="Opening the lab">
      {children}
    </Opened>
  );
}
