import '@testing-library/jest-dom';

/** jsdom has no EventSource: in these tests nobody else saves. */
class Silent {
  addEventListener(): void {}
  close(): void {}
}
Object.assign(globalThis, { EventSource: Silent });
