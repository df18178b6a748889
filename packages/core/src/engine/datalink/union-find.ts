/** Disjoint sets over 0…n-1 with path halving. The least element of a set stands for it. */
export class UnionFind {
  private readonly parent: number[] = [];

  get size(): number {
    return this.parent.length;
  }

  /** A new set with one element; returns the element. */
  add(): number {
    return this.parent.push(this.parent.length) - 1;
  }

  /** New sets with one element each, up to this one. */
  grow(item: number): void {
    while (this.parent.length <= item) this.add();
  }

  find(item: number): number {
    let at = item;
    while (this.parent[at] !== at) {
      this.parent[at] = this.parent[this.parent[at]!]!;
      at = this.parent[at]!;
    }
    return at;
  }

  /** Joins two sets. False when they were one already: the new edge closes a circle. */
  union(a: number, b: number): boolean {
    const [x, y] = [this.find(a), this.find(b)];
    if (x === y) return false;
    if (x < y) this.parent[y] = x;
    else this.parent[x] = y;
    return true;
  }
}
