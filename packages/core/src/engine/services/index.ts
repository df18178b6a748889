/**
 * Services. In: the model. Out: which ports a device listens on, names (RFC 1034), pages, sign-in, and telephones from
 * their power over the VLAN for voice (ANSI/TIA-1057) to the call.
 */
export * from './listening';
export * from './services';
export * from './telephony';
