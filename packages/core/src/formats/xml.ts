/** Signs that XML 1.0 has no way to write (section 2.2). */
const UNWRITABLE = /[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu;

/** A text as it stands between tags or in an attribute; signs that XML cannot write are left out. */
export const xmlText = (text: string): string =>
  text
    .replaceAll(UNWRITABLE, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll(/[\t\n\r]/g, (sign) => `&#${sign.charCodeAt(0)};`);
