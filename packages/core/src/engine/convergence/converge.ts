import { type Address } from '../../address';
import { type DataLink } from '../datalink';
import { type Arrives, leasesOf } from '../leases';
import { type Instance } from '../devices';
import { type Leases, type Earlier, type Network, type RoutingOptions, network } from '../network';
import { type Physical } from '../physical';
import { type FilterOut, type Layers, arrives } from '../forwarding';

/** Leases, what they teach and the ways of relays depend on one another: after so many rounds it is left as it is. */
const MOST_ROUNDS = 8;

/**
 * The network with the addresses that its servers give: repeated until a round gives the same ones.
 *
 * @param earlier the same before an edit
 */
export function convergedNetwork(
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  layer2: DataLink,
  options: RoutingOptions & { readonly filterOut: FilterOut },
  earlier?: Earlier,
): Network {
  const { filterOut } = options;
  let settled = network(instances, layer1, layer2, undefined, earlier, options);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const leases = leasesOf(layer2, settled, relayed({ instances, layer2, layer3: settled, filterOut }));
    if (sameLeases(leases, settled.leases)) break;
    settled = network(instances, layer1, layer2, leases, earlier, options);
  }
  return settled;
}

/** Whether what a relay and a server send to one another arrives. */
export const relayed =
  (layers: Layers): Arrives =>
  (from, source, to, destination) =>
    arrives(layers, from, to, { source, destination, protocol: 'udp', ...relayPorts(destination) });

/** Between a relay and a server (RFC 2131 4.1, RFC 8415 7.2). */
const relayPorts = ({ family }: Address): { sourcePort: number; destinationPort: number } =>
  family === 4 ? { sourcePort: 67, destinationPort: 67 } : { sourcePort: 547, destinationPort: 547 };

const sameLeases = (first: Leases, second: Leases): boolean =>
  first.size === second.size &&
  [...first].every(([key, { address, router, server }]) => {
    const there = second.get(key);
    return (
      there?.address.address.value === address.address.value &&
      there.address.length === address.length &&
      there.router?.value === router?.value &&
      there.server === server
    );
  });
