/**
 * Packets on their way. In: the layers below and a packet. Out: what one device decides, and the whole way there and
 * back. The order on a router: filter in, reverse or destination translation, route, filter out, source translation.
 * Rules: RFC 1812, neighbours by RFC 826 and 4861, translation by connection (RFC 3022), firewalls by zones.
 */
export * from './forward';
export * from './realms';
export * from './trace';
export * from './zones';
