/**
 * Leases. In: tables of routes, the data link, how a request comes to a server. Out: who leases which address, and what
 * else the server tells. Rules: RFC 2131 and 2132 with relays, RFC 8415 for IPv6, RFC 3927 where nobody answers.
 */
export { type Arrives, leasesOf, toldNames } from './dhcp';
