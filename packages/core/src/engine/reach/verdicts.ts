import { type Probe } from '../forwarding';
import { type Reachability } from './destinations';

/** What a class is called by in all drawings that came of one another. */
export interface ClassNumbers {
  /** Never given to another class. */
  readonly number: number;
  /** The number of its first address among all addresses of classes; the others follow. */
  readonly slot: number;
}

/** Numbers of classes that are gone are not given again: with so many to spare everything is numbered anew. */
const SPARE = 1000;

/**
 * What classes get from the addresses of classes. It only grows: a class whose members became something else has another
 * number, and what is known of two numbers stays so. Drawings between which lie edits of hosts share it, others do not.
 */
export class Verdicts {
  private classes = 0;
  private slots = 0;
  /** By what is asked with, then by the number of who asks: a code for each slot, 0 where nothing is known yet. */
  private readonly rows = new Map<string, Map<number, Uint8Array>>();

  add(slots: number): ClassNumbers {
    const numbers = { number: this.classes++, slot: this.slots };
    this.slots += slots;
    return numbers;
  }

  /** Whether most of the numbers are of classes that are gone. */
  isWorn(inUse: number): boolean {
    return this.classes > 2 * inUse + SPARE;
  }

  /** What a class gets, as far as it is known; what becomes known is written into it. */
  rowOf({ number }: ClassNumbers, probe: Probe): Uint8Array {
    const key = probeKey(probe);
    let rows = this.rows.get(key);
    if (!rows) this.rows.set(key, (rows = new Map<number, Uint8Array>()));
    let row = rows.get(number);
    if (!row || row.length < this.slots) {
      const longer = new Uint8Array(this.slots);
      if (row) longer.set(row);
      rows.set(number, (row = longer));
    }
    return row;
  }
}

export const probeKey = (probe: Probe): string =>
  probe.protocol === 'icmp' ? 'icmp' : `${probe.protocol} ${probe.port}`;

/** All verdicts there are: a number for each, from 1. */
const ANSWERS = ['yes', 'no', 'uncertain'] as const;
const DIRECTIONS = [null, 'request', 'reply'] as const;
export const codeOf = ({ answer, reached, direction }: Reachability): number =>
  1 + ANSWERS.indexOf(answer) * 6 + DIRECTIONS.indexOf(direction) * 2 + (reached ? 1 : 0);
/** By code. */
export const VERDICTS: readonly (Reachability | null)[] = [
  null,
  ...ANSWERS.flatMap((answer) =>
    DIRECTIONS.flatMap((direction) => [false, true].map((reached) => ({ answer, reached, direction }))),
  ),
];
