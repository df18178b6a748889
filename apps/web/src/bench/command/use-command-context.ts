import { type FieldContext } from '@sobrin/core/bench';
import { namingScheme } from '@sobrin/core/editing';
import { useMemo } from 'react';
import { type MenuEntry } from '../bench-menu';
import { useBench } from '../use-bench';

/** What the command field goes by: the drawing, what is chosen in it, the plan, and the entries of the menu that can be taken. */
export function useCommandContext({
  automatic,
  plan,
  menu,
}: Pick<FieldContext, 'automatic' | 'plan'> & { menu: readonly MenuEntry[] }): FieldContext {
  const { document: topology, selection } = useBench((state) => state);
  return useMemo(
    () => ({
      topology,
      chosen: selection.devices,
      automatic,
      plan,
      namingScheme: namingScheme(plan?.brief),
      menu: menu.filter((entry) => !entry.off).map(({ id, text, keys }) => ({ id, text, ...(keys && { more: keys }) })),
    }),
    [topology, selection.devices, automatic, plan, menu],
  );
}
