import { formatInterfaceAddress } from '../../address';
import { type GivenAddress } from '../../topology';
import { type NetworkModel } from '../analysis';

/** The addresses that interfaces have without being set. */
export const givenAddresses = ({ layer3 }: NetworkModel): GivenAddress[] =>
  [...layer3.nodes.values()].flatMap(({ instance, interfaceStates }) =>
    interfaceStates.flatMap(({ key, addresses, typed }) => {
      const given = addresses.filter((address) => !typed.includes(address)).map(formatInterfaceAddress);
      return given.length
        ? [{ device: instance.deviceId, member: instance.member, interface: key, addresses: given }]
        : [];
    }),
  );
