import { create } from 'zustand';

/** Whether the server has said that nobody is signed in any more, while somebody worked. */
export const useSession = create<{ hasEnded: boolean }>(() => ({ hasEnded: false }));
export const sessionEnded = (hasEnded: boolean): void => useSession.setState({ hasEnded });
