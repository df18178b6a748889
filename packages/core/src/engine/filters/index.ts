/**
 * Packet filters. In: the rules of a device and a packet. Out: whether it passes, and the rule that says so. The first
 * match decides, none denies; "established" is TCP with ACK or RST (RFC 9293).
 */
export * from './filters';
