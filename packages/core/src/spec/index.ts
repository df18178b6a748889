export * from './asked-hints';
export * from './check';
export * from './judge';
export * from './decisions';
export * from './diagnosis';
export * from './doubts';
export * from './drafting';
export * from './drill';
export * from './mark-lines';
export * from './reference-differences';
export * from './result';
export * from './spec-differences';
export * from './spec-problems';
export { firstRule } from './first-rule';
export { type Combination, type LeafRule, type Rule, EACH, isCombination, partsOf } from './combining';
export { chosenIn, namesOf } from './context';
export { type Selection } from './selection';
export { kindWord } from './rules/kind-words';
export { SEARCHED, searchWords } from './rules/search-words';
export { evaluate, ruleProblems, wordsOf } from './evaluate';
export { type JudgingLab, judgedBy, specHash } from './judging';
export * from './lab-parts';
export { type Matching, type Pins, type RoleMatch, type Sureness, matchRoles } from './matching/match';
export { rolesRight } from './matching/quality';
export { assign } from './matching/assignment';
export {
  FAMILIES,
  FAMILY_TITLES,
  type Item,
  type ItemCode,
  type Names,
  type Packet,
  type Part,
  type Place,
  type RuleFamily,
  type RuleKind,
  type Slot,
  NETWORKS,
  NETWORKS_WORDS,
  REF_WORDS,
  sentenceOf,
} from './rule';
export { ALL_GROUPS, ANY_SITE, RULE_KINDS, ruleKind } from './rules';
export * from './schema';
export * from './self-check';
export * from './not-in-force';
export { type Remark, asJudged } from './outside';
export * from './showing';
export * from './told';
export * from './tries';
export * from './typing';
