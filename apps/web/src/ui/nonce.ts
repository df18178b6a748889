/** The word that the server gave this page for its own styles: no other may be written into it. Absent in development. */
export const nonce: string | undefined =
  document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce || undefined;
