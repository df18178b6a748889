import { type PlanNode, type PlanTree } from '@sobrin/core/plan';
import { useState } from 'react';

const NONE: ReadonlySet<string> = new Set();

/** Which blocks are opened in a tree: divided ones are unless they are closed, subnets only when they are opened. */
export function useOpened() {
  const [closed, setClosed] = useState(NONE);
  const [opened, setOpened] = useState(NONE);
  return {
    closed,
    opened,
    toggle: (node: PlanNode, open: boolean): void => {
      const subnet = node.children.length === 0;
      const next = new Set(subnet ? opened : closed);
      if (subnet === open) next.add(node.id);
      else next.delete(node.id);
      if (subnet) setOpened(next);
      else setClosed(next);
    },
    /** Opens everything around a block, so that it is seen. */
    reveal: (tree: PlanTree, id: string): void => {
      const around = new Set(closed);
      for (let at = tree.nodes.get(id)?.parent ?? null; at !== null; at = tree.nodes.get(at)?.parent ?? null)
        around.delete(at);
      if (around.size !== closed.size) setClosed(around);
    },
    openSubnet: (id: string): void => setOpened(new Set([...opened, id])),
  };
}
