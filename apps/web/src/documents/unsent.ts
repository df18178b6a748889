/** Something that people change here and that reaches the server a moment later. */
export interface Unsent {
  isUnsaved: () => boolean;
  /** Sends what waits; resolved when it is stored, or kept in this browser. */
  flush: () => Promise<unknown>;
  /** The connection is back. */
  retry: () => void;
  /** Somebody else is to use the page. */
  forget: () => void;
}

const watched = new Set<Unsent>();
export const watchUnsent = (unsent: Unsent): void => void watched.add(unsent);

/** Leaving the page with anything unsaved warns; what waited is sent when the connection is back. */
window.addEventListener('beforeunload', (event) => {
  if ([...watched].some((unsent) => unsent.isUnsaved())) event.preventDefault();
});
export const retryUnsent = (): void => {
  for (const unsent of watched) unsent.retry();
};
window.addEventListener('online', retryUnsent);

/** Lets go of everything, when somebody else is to use the page; resolved when what was not sent yet is sent or kept. */
export async function closeUnsent(): Promise<void> {
  await Promise.all([...watched].map((unsent) => unsent.flush()));
  forgetUnsent();
}
export const forgetUnsent = (): void => {
  for (const unsent of watched) unsent.forget();
  watched.clear();
};
