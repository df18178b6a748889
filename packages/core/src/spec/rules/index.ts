import { type RuleKind } from '../rule';
import {
  addressRule,
  firstUsableRule,
  gatewayRule,
  inBlockRule,
  noOverlapRule,
  oneSubnetRule,
  privateRule,
  outsideBlockRule,
  prefixLengthRule,
  roomForRule,
  uniqueAddressesRule,
  usableRule,
} from './addressing';
import {
  cableIdsRule,
  duplexAgreesRule,
  linkedRule,
  linksUpRule,
  mediumRule,
  portsLabelledRule,
  speedRule,
} from './cabling';
import {
  accessPortsRule,
  atSiteRule,
  connectedRule,
  deviceCountRule,
  hostnameIsNameRule,
  poweredRule,
  namesUniqueRule,
  rightKindRule,
} from './components';
import { apartRule, pathThroughRule, reachRule, reachesGatewayRule, withinRule } from './connectivity';
import { titledRule } from './documentation';
import { PLAN_RULES } from './plan';

/** Every kind of rule, in the order in which the editor offers them. A new kind is added here and nowhere else. */
export const RULE_KINDS: readonly RuleKind[] = [
  rightKindRule,
  deviceCountRule,
  accessPortsRule,
  atSiteRule,
  namesUniqueRule,
  hostnameIsNameRule,
  connectedRule,
  poweredRule,
  linkedRule,
  mediumRule,
  linksUpRule,
  speedRule,
  duplexAgreesRule,
  portsLabelledRule,
  cableIdsRule,
  oneSubnetRule,
  roomForRule,
  inBlockRule,
  prefixLengthRule,
  addressRule,
  gatewayRule,
  firstUsableRule,
  uniqueAddressesRule,
  usableRule,
  privateRule,
  outsideBlockRule,
  noOverlapRule,
  reachRule,
  reachesGatewayRule,
  withinRule,
  apartRule,
  pathThroughRule,
  ...PLAN_RULES,
  titledRule,
];
/** The kind of rule of a name; undefined for one that this version does not know. */
export const ruleKind = (kind: string): RuleKind | undefined => RULE_KINDS.find((candidate) => candidate.kind === kind);
export { ANY_SITE } from './components';
export { ALL_GROUPS } from './plan';
