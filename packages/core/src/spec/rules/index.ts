import { type RuleKind } from '../rule';
import {
  addressOf,
  firstUsable,
  gateway,
  inBlock,
  noOverlap,
  oneSubnet,
  onlyPrivate,
  outsideBlock,
  prefixLength,
  roomFor,
  uniqueAddresses,
  usable,
} from './addressing';
import { cableIdsUnique, duplexAgrees, linked, linksUp, medium, portsLabelled, speed } from './cabling';
import {
  accessPorts,
  atSite,
  connected,
  deviceCount,
  hostnameIsName,
  modulesPowered,
  namesUnique,
  rightKind,
} from './components';
import { apart, pathThrough, reach, reachesGateway, within } from './connectivity';
import { titled } from './documentation';
import { PLAN_RULES } from './plan';

/** Every kind of rule, in the order in which the editor offers them. A new kind is added here and nowhere else. */
export const RULE_KINDS: readonly RuleKind[] = [
  rightKind,
  deviceCount,
  accessPorts,
  atSite,
  namesUnique,
  hostnameIsName,
  connected,
  modulesPowered,
  linked,
  medium,
  linksUp,
  speed,
  duplexAgrees,
  portsLabelled,
  cableIdsUnique,
  oneSubnet,
  roomFor,
  inBlock,
  prefixLength,
  addressOf,
  gateway,
  firstUsable,
  uniqueAddresses,
  usable,
  onlyPrivate,
  outsideBlock,
  noOverlap,
  reach,
  reachesGateway,
  within,
  apart,
  pathThrough,
  ...PLAN_RULES,
  titled,
];
export const ruleKind = (kind: string): RuleKind | undefined => RULE_KINDS.find((one) => one.kind === kind);
export { ANY_SITE } from './components';
export { ALL_GROUPS } from './plan';
