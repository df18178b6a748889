import { createContext, useContext } from 'react';

/** Why the documents of a page can be read only, as a sentence; null where they can be changed. */
const ReadOnly = createContext<string | null>(null);
export const ReadOnlyProvider = ReadOnly.Provider;
export const useReadOnly = (): string | null => useContext(ReadOnly);
