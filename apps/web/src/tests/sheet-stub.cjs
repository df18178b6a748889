// Stands for the part of emotion that writes rules into the page: jsdom would match every rule with every element asked for.
class StyleSheet {
  constructor({ key, nonce, container, prepend }) {
    Object.assign(this, { key, nonce, container, prepend, tags: [], before: null, ctr: 0, isSpeedy: true });
  }
  hydrate() {}
  insert() {}
  flush() {}
}
module.exports = { StyleSheet };
