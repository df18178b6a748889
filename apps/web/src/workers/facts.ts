import {
  type NetworkModel,
  type Reason,
  type ReasonCode,
  givenAddresses,
  linkDomains,
  problemsOf,
} from '@sobrin/core/engine';
import { type GivenAddress } from '@sobrin/core/topology';

/** How a link shows at its ports: passes traffic, down, or a cable that cannot work there. */
export type ChipState = 'up' | 'down' | 'crossed';
export interface LinkFact {
  state: ChipState;
  /** Why, as a sentence. */
  text: string;
  warning: boolean;
  speedMbps: number | null;
  /** The broadcast domains it belongs to, as numbers. */
  domains: number[];
}

/** What the engine says of a drawing, as plain data that crosses to and from a worker. */
export interface Facts {
  links: Record<string, LinkFact>;
  problems: Reason[];
  /** What interfaces have without it being set. */
  given: GivenAddress[];
}

export const NO_FACTS: Facts = { links: {}, problems: [], given: [] };

const WRONG_CABLE: ReadonlySet<ReasonCode> = new Set([
  'PORT_TAKEN_TWICE',
  'CONNECTOR_MISMATCH',
  'FIBRE_MISMATCH',
  'WRONG_PAIRING',
  'NO_COMMON_SPEED',
  'RADIO_MISMATCH',
]);

export function factsOf(model: NetworkModel): Facts {
  const domains = linkDomains(model);
  const links = Object.fromEntries(
    [...model.layer1.links].map(([id, { up, reason, warnings, speedMbps }]): [string, LinkFact] => [
      id,
      {
        state: up ? 'up' : reason && WRONG_CABLE.has(reason.code) ? 'crossed' : 'down',
        text: reason?.text ?? warnings.map((warning) => warning.text).join(' ') ?? '',
        warning: warnings.length > 0,
        speedMbps,
        domains: domains.get(id) ?? [],
      },
    ]),
  );
  return { links, problems: problemsOf(model), given: givenAddresses(model) };
}
