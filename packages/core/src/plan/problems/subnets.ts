import { type Prefix, bitsOf, contains, formatAddress, formatPrefix, parseAddress, sameAddress } from '../../address';
import { type Brief, schemesOf } from '../schema';
import { schemeGateway } from '../subnet';
import { type PlanNode, isSubnet } from '../tree';
import { type PlanProblem, spaces, named, edgeWord } from './problem';

export function subnetProblems(node: PlanNode, brief: Brief): PlanProblem[] {
  if (!isSubnet(node) || node.block.standing === 'kept-free') return [];
  return spaces(node).flatMap((prefix) => [
    ...pointProblem(node, prefix),
    ...gatewayProblem(node, prefix, brief),
    ...automaticProblem(node, prefix),
  ]);
}

function pointProblem(node: PlanNode, prefix: Prefix): PlanProblem[] {
  const { block, id } = node;
  const hostBits = bitsOf(prefix.family) - prefix.length;
  const forHosts = block.group !== undefined || block.use === 'hosts';
  const at = { block: id };
  if (hostBits <= 1 && forHosts)
    return [
      {
        code: 'POINT_TO_POINT',
        text: `${named(node)} is a /${prefix.length}: ${hostBits ? 'it has two addresses, for the two ends of a link,' : 'it is one address alone,'} and none for hosts and a gateway.`,
        at,
      },
    ];
  if (hostBits === 0 && block.use === 'link')
    return [
      {
        code: 'POINT_TO_POINT',
        text: `${named(node)} is one address alone: a link has two ends, so take a /${prefix.length - 1}.`,
        at,
      },
    ];
  if (hostBits > 0 && block.use === 'loopback' && block.gateway !== undefined)
    return [{ code: 'POINT_TO_POINT', text: `${named(node)} is for loopbacks: they have no gateway.`, at }];
  return [];
}

function gatewayProblem(node: PlanNode, prefix: Prefix, brief: Brief): PlanProblem[] {
  const text = prefix.family === 4 ? node.block.gateway : node.block.gateway6;
  const at = { block: node.id };
  if (text === undefined) return [];
  const read = parseAddress(text);
  const problem = (words: string): PlanProblem[] => [{ code: 'GATEWAY', text: `${named(node)}: ${words}`, at }];
  if (!read.ok) return problem(read.error.text);
  if (read.value.family !== prefix.family) return problem(`the gateway ${text} is of the other family.`);
  const isLinkLocal = prefix.family === 6 && formatAddress(read.value).startsWith('fe80:');
  if (isLinkLocal) return [];
  if (!contains(prefix, read.value)) return problem(`the gateway ${text} lies outside ${formatPrefix(prefix)}.`);
  const edge = edgeWord(node.block, prefix, read.value);
  if (edge) return problem(`the gateway ${text} is the ${edge} of ${formatPrefix(prefix)}.`);
  const wanted = schemeGateway(node.block, prefix, brief);
  return sameAddress(wanted, read.value)
    ? []
    : problem(
        `the gateway ${text} is not the ${schemesOf(brief).gateway} usable address, which is ${formatAddress(wanted)}.`,
      );
}

/** Hosts make an address themselves in a /64 only (RFC 4862, RFC 7421). */
function automaticProblem({ id, block }: PlanNode, prefix: Prefix): PlanProblem[] {
  if (prefix.family === 4 || prefix.length === 64 || block.automatic === false) return [];
  if (
    (block.use ?? 'hosts') !== 'hosts' ||
    !(block.group !== undefined || block.vlan !== undefined || block.use === 'hosts')
  )
    return [];
  return [
    {
      code: 'NOT_64',
      text: `${block.name}: ${formatPrefix(prefix)} is no /64, but its hosts are to make their addresses themselves. Take a /64, or say that they do not.`,
      at: { block: id },
    },
  ];
}
