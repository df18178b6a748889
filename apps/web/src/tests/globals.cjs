// What browsers have and jsdom has not, from Node.
const { TextDecoder, TextEncoder } = require('node:util');
const { deserialize, serialize } = require('node:v8');

Object.assign(globalThis, { TextDecoder, TextEncoder, structuredClone: (value) => deserialize(serialize(value)) });
