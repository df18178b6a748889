/**
 * Routes and leases depend on one another (a relay needs routes, a default route comes with a lease). In: the layers up
 * to the data link. Out: the network as it is once nothing changes any more, after a bounded number of rounds.
 */
export { relayed, convergedNetwork } from './converge';
