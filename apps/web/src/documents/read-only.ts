import { createContext, useContext } from 'react';

/** Why the documents of a page can be read only, as a sentence; null where they can be changed. */
const ReadOnly = createContext<string | null>(null);
export const ReadOnlyProvider = ReadOnly.Provider;
export const useReadOnly = (): string | null => useContext(ReadOnly);

/** The name in which one may comment on a drawing that can be read only; null where one may not, or may change it anyhow. */
const SpeaksAs = createContext<string | null>(null);
export const SpeaksAsProvider = SpeaksAs.Provider;
export const useSpeaksAs = (): string | null => useContext(SpeaksAs);
