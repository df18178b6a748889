import { type NamedGroups } from '@sobrin/core/engine';
import { type Spec } from '@sobrin/core/spec';
import { type ReactNode, createContext, useContext, useMemo } from 'react';

const NamedGroupsContext = createContext<NamedGroups | undefined>(undefined);

/** Groups of devices that the lab of a drawing names; nothing where they are not to be seen. */
export const useNamedGroups = (): NamedGroups | undefined => useContext(NamedGroupsContext);

/** Makes the groups of a spec known to the bench of its reference. */
export function SpecGroups({ groups, children }: { groups: Spec['groups']; children: ReactNode }) {
  const value = useMemo(() => {
    const named = Object.entries(groups).map(
      ([id, { title, roles }]) => [id, { name: title, devices: roles }] as const,
    );
    return named.length ? Object.fromEntries(named) : undefined;
  }, [groups]);
  return <NamedGroupsContext value={value}>{children}</NamedGroupsContext>;
}
