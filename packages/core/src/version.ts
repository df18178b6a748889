/**
 * The core that made a result: SHA-256 over its sources and the versions of what it depends on, in hex. The build writes
 * it here (scripts/lib/build.mjs); what runs from the sources themselves is whatever they are at that moment.
 */
export const CORE_VERSION: string = 'sources';
