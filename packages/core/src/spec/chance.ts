import { type ReasonCode } from '../engine';
import { type KeyedItem } from './evaluate';

/** Mistakes that leave it to chance whether something works: who is first, or louder, or remembered. */
const CHANCE: ReadonlySet<string> = new Set<ReasonCode>([
  'DUPLICATE_ADDRESS',
  'WRONG_DEVICE_ANSWERS',
  'DHCP_TWICE',
  'STORM',
  'BUNDLE_NOT_FORMED',
  'EQUAL_COST_DIFFERS',
  'ROUTE_UNSTABLE',
]);

/** What a mistake of the drawing itself leaves to chance is lost, unless a person decides otherwise; for reach and for separation alike. */
export const proposedAsLost = (item: KeyedItem): KeyedItem =>
  item.met === null && CHANCE.has(item.code)
    ? { ...item, proposed: 'lost', text: `${item.text} Left to chance: proposed as lost.` }
    : item;
