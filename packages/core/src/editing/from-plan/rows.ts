import { tilesOf } from '../../drawing';
import type { Topology } from '../../topology';
import type { Position } from '../place';
import type { Draft } from './draft';
import type { SubnetWish } from './wish';

/** So far below one another stand router, switch and hosts, in pixels. */
const BELOW = 140;
/** Subnets are told apart by so much, in pixels. */
const BETWEEN_GROUPS = 64;
/** The room of a host with its gap, and how wide a row is at the most, in pixels. */
const HOST = 72;
const GAP = 24;
const MOST_ACROSS = 12 * HOST;

/** A place below a device. */
export function belowOf(topology: Topology, id: string): Position {
  const tile = tilesOf(topology).get(id)!;
  return { x: tile.x, y: tile.y + BELOW };
}

/** Where hosts stand: side by side below their switch, subnet by subnet, and what is behind a telephone below it. */
export class Rows {
  private readonly at: Position;

  constructor(
    private readonly draft: Draft,
    bridge: string,
    wishes: readonly SubnetWish[],
  ) {
    const tile = tilesOf(draft.topology).get(bridge)!;
    const phones = wishes.filter(({ model }) => model === 'phone');
    const across = (phones.length ? phones : wishes).reduce(
      (sum, { count, model }) => sum + count * stepOf(model === 'phone'),
      0,
    );
    this.at = { x: tile.x + tile.width / 2 - Math.min(across, MOST_ACROSS) / 2, y: tile.y + BELOW };
  }

  /** The place for the next host: below its telephone where it has one. */
  next(phone: string | undefined, isPhone: boolean): Position {
    if (phone !== undefined) return belowOf(this.draft.topology, phone);
    this.step = stepOf(isPhone);
    return { ...this.at };
  }
  private step = 0;

  /** Goes on behind a host that stands now; one below a telephone takes no room in the row. */
  after([id]: readonly string[], phone: string | undefined): void {
    if (id !== undefined && phone === undefined) this.at.x = this.draft.topology.devices[id]!.at.x + this.step;
  }

  endGroup(): void {
    this.at.x += BETWEEN_GROUPS - GAP;
  }
}

/** The name of a telephone stands beside it, since a cable leaves below. */
const stepOf = (isPhone: boolean): number => (isPhone ? 2 : 1) * HOST;
