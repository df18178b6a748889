import { type Family } from './address';

/**
 * Distinct addresses of one family in rising order. Every question is a binary search: O(log n). A changed list is a new
 * one; the old one stays as it is.
 */
export class AddressList {
  /** Invariant: strictly rising. */
  private constructor(
    readonly family: Family,
    private readonly values: readonly bigint[],
  ) {}

  static of(family: Family, values: Iterable<bigint>): AddressList {
    const sorted = [...values];
    // Mostly they come in order: then there is nothing to do.
    if (sorted.some((value, at) => at > 0 && value <= sorted[at - 1]!))
      sorted.sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
    return new AddressList(
      family,
      sorted.filter((value, at) => at === 0 || value !== sorted[at - 1]),
    );
  }

  get size(): number {
    return this.values.length;
  }

  /** How many of the list lie before `value`. */
  private before(value: bigint): number {
    let [low, high] = [0, this.values.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.values[middle]! < value) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  has(value: bigint): boolean {
    return this.values[this.before(value)] === value;
  }

  /** How many lie from `from` to `to`, both included. */
  countIn(from: bigint, to: bigint): number {
    return to < from ? 0 : this.before(to + 1n) - this.before(from);
  }

  /** Those from `from` to `to`, both included, in order. */
  within(from: bigint, to: bigint): readonly bigint[] {
    return to < from ? [] : this.values.slice(this.before(from), this.before(to + 1n));
  }

  /** The lowest address from `from` to `to` that is not in the list; null where all are. */
  nextFree(from: bigint, to: bigint): bigint | null {
    const start = this.before(from);
    // values[start + k] is from + k for as long as there is no gap, and never again after the first one.
    let [low, high] = [0, this.values.length - start];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.values[start + middle] === from + BigInt(middle)) low = middle + 1;
      else high = middle;
    }
    const free = from + BigInt(low);
    return free <= to ? free : null;
  }

  with(value: bigint): AddressList {
    const at = this.before(value);
    if (this.values[at] === value) return this;
    return new AddressList(this.family, [...this.values.slice(0, at), value, ...this.values.slice(at)]);
  }

  without(value: bigint): AddressList {
    const at = this.before(value);
    if (this.values[at] !== value) return this;
    return new AddressList(this.family, [...this.values.slice(0, at), ...this.values.slice(at + 1)]);
  }
}
