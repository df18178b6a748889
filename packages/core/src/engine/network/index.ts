/**
 * Addresses and routes. In: instances, the data link, leases. Out: for each device its interfaces as they stand and its
 * table of routes. Rules: longest prefix, then distance, then metric (RFC 1812); static routes by recursion, RIPv2 (RFC
 * 2453), OSPFv2 and v3 (RFC 2328, 5340, 3509), virtual routers (RFC 9568), autoconfiguration (RFC 4861, 4862).
 */
export { wireTagOf } from './interface-states';
export * from './autoconfiguration';
export * from './heard';
export * from './lease';
export * from './network';
export * from './node';
export * from './ospf';
export { type External, sharedIds } from './ospf-database';
export { type Adjacency, type OspfInterface, areaType, neighbourhoodsOf, timersOf } from './ospf-interfaces';
export * from './routing-options';
export * from './vrrp';
