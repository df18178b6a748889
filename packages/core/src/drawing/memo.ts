/**
 * Values by key that stay the same object as long as what they are made from stays the same, so that only what changed
 * is made, and drawn, anew.
 */
export class Memo<V> {
  private readonly entries = new Map<string, { from: readonly unknown[]; value: V; turn: number }>();
  private turns = 0;

  take(key: string, from: readonly unknown[], make: () => V): V {
    const old = this.entries.get(key);
    if (old && sameItems(old.from, from)) {
      old.turn = this.turns;
      return old.value;
    }
    const value = make();
    this.entries.set(key, { from, value, turn: this.turns });
    return value;
  }

  /** Forgets what was not asked for since the last turn. */
  turn(): void {
    for (const [key, entry] of this.entries) if (entry.turn !== this.turns) this.entries.delete(key);
    this.turns++;
  }
}

const sameItems = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((value, at) => value === b[at]);

/** The old one where the new one, a flat object, has the same in every field. */
export function unchanged<T extends object>(old: T | undefined, made: T): T {
  if (!old) return made;
  for (const key in made) if (old[key] !== made[key]) return made;
  return old;
}
