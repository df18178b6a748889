/** How often something of the reference stands where a drawing has something else, by both. */
export class Votes<T> {
  private readonly all = new Map<string, Map<string, { value: T; n: number }>>();
  constructor(private readonly keyOf: (value: T) => string) {}
  add(asked: T, found: T): void {
    const of = this.all.get(this.keyOf(asked)) ?? new Map<string, { value: T; n: number }>();
    const known = of.get(this.keyOf(found));
    of.set(this.keyOf(found), { value: found, n: (known?.n ?? 0) + 1 });
    this.all.set(this.keyOf(asked), of);
  }
  /**
   * What most have in its place; of equals the one that sorts first.
   *
   * @param rank what outranks how many there are, the larger the better; and what decides between as many
   */
  most(asked: T, rank: (found: T) => readonly [before: number, after: number] = () => [0, 0]): T | null {
    const of = [...(this.all.get(this.keyOf(asked)) ?? [])].map(([key, { value, n }]) => {
      const [before, after] = rank(value);
      return { key, value, order: [before, n, after] };
    });
    const [first] = of.sort(
      (a, b) => b.order.map((each, at) => each - a.order[at]!).find((each) => each !== 0) ?? (a.key < b.key ? -1 : 1),
    );
    return first?.value ?? null;
  }
  has(asked: T, found: T): boolean {
    return this.all.get(this.keyOf(asked))?.has(this.keyOf(found)) ?? false;
  }
  /** Whether most have what the reference has. */
  get areSame(): boolean {
    const counts = [...this.all].flatMap(([asked, of]) =>
      [...of].map(([found, { n }]) => ({ n, same: asked === found })),
    );
    const sum = (list: readonly { n: number }[]): number => list.reduce((all, { n }) => all + n, 0);
    return sum(counts.filter(({ same }) => same)) * 2 >= sum(counts);
  }
}
