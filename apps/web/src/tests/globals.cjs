// What browsers have and jsdom has not, from Node.
const { TextDecoder, TextEncoder } = require('node:util');
const { deserialize, serialize } = require('node:v8');

Object.assign(globalThis, { TextDecoder, TextEncoder, structuredClone: (value) => deserialize(serialize(value)) });

// React keeps where each element was made, for its warnings: a sixth of the time of these tests. Elements without it are
// what it makes after its first ten thousand.
const internals = require('react').__CLIENT_INTERNALS_DO_NOT_USE_OR_WARN_USERS_THEY_CANNOT_UPGRADE;
Object.defineProperty(internals, 'recentlyCreatedOwnerStacks', { get: () => Infinity, set: () => {} });
