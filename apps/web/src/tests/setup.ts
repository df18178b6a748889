import '@testing-library/jest-dom';

// Typing letter by letter takes its time on a busy machine.
jest.setTimeout(30_000);
