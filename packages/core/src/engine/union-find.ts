/** Disjoint sets over 0…n-1 with path halving and union by size. */
export class UnionFind {
  private readonly parent: number[] = [];
  private readonly size: number[] = [];

  /** A new set with one element; returns the element. */
  add(): number {
    this.size.push(1);
    return this.parent.push(this.parent.length) - 1;
  }

  find(one: number): number {
    let at = one;
    while (this.parent[at] !== at) {
      this.parent[at] = this.parent[this.parent[at]!]!;
      at = this.parent[at]!;
    }
    return at;
  }

  /** Joins two sets. False when they were one already: the new edge closes a circle. */
  union(a: number, b: number): boolean {
    let [x, y] = [this.find(a), this.find(b)];
    if (x === y) return false;
    if (this.size[x]! < this.size[y]!) [x, y] = [y, x];
    this.parent[y] = x;
    this.size[x]! += this.size[y]!;
    return true;
  }
}
