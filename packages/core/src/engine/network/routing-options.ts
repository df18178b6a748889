/** How routers of a lab behave where standards leave a choice. */
export interface RoutingOptions {
  /**
   * Who joins areas of OSPF: routers in several areas of which one is the backbone (RFC 3509), or all that are in several
   * (RFC 2328 §3.3), which then look at summaries of the backbone only.
   */
  readonly borderRouters: 'rfc3509' | 'rfc2328';
  readonly distances: Distances;
}

/**
 * How much each source of routes is believed where several tell of one prefix, the least first; what is connected always
 * comes first. No standard has these numbers: they are the lab's. `learnt` is what servers and advertisements tell.
 */
export type Distances = Readonly<Record<'static' | 'ospf' | 'rip' | 'learnt', number>>;

export const USUAL_DISTANCES: Distances = { static: 1, ospf: 110, rip: 120, learnt: 254 };
export const USUAL_ROUTING: RoutingOptions = { borderRouters: 'rfc3509', distances: USUAL_DISTANCES };
