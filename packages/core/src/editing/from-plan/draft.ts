import { type Command, type Model, type Topology, applyCommand, entriesById, modelOf } from '../../topology';
import type { NewId } from '../place';

/** Commands that are tried one after the other on a drawing that grows with them. */
export class Draft {
  readonly commands: Command[] = [];
  readonly left: string[] = [];

  constructor(public topology: Topology) {}

  run(...commands: readonly Command[]): boolean {
    for (const command of commands) {
      const done = applyCommand(this.topology, command);
      if (!done.ok) {
        this.left.push(done.error);
        return false;
      }
      this.topology = done.value.document;
      this.commands.push(command);
    }
    return true;
  }

  model(id: string): Model {
    return modelOf(this.topology, this.topology.devices[id]!)!;
  }

  name(id: string): string {
    return this.topology.devices[id]!.name;
  }
}

/** The site of the drawing that is called like one of the plan; it is made where there is none. */
export function siteIn(draft: Draft, name: string | undefined, newId: NewId): string | undefined {
  if (name === undefined) return undefined;
  const found = entriesById(draft.topology.sites).find(([, site]) => site.name === name)?.[0];
  if (found !== undefined) return found;
  const id = newId(name);
  return draft.run({ kind: 'setSite', id, set: { name } }) ? id : undefined;
}
