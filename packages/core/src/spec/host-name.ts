/** A name as hosts have it: without case (RFC 4343), and a hyphen for what it cannot hold (RFC 1123 §2.1). */
export const hostName = (text: string): string =>
  text
    .trim()
    .toLowerCase()
    .replace(/[\s_]+/g, '-');
