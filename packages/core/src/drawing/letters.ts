/**
 * Advances of the letters from space to tilde in hundredths of the size, of the bold face that names are written in
 * (Atkinson Hyperlegible Next, 700).
 */
const ADVANCES = [
  31, 30, 39, 77, 61, 97, 73, 21, 34, 34, 49, 60, 27, 37, 27, 44, 66, 44, 58, 60, 62, 61, 63, 54, 62, 57, 27, 27, 57,
  61, 57, 55, 78, 68, 64, 66, 69, 60, 57, 72, 70, 43, 56, 66, 55, 86, 72, 75, 63, 76, 65, 61, 61, 69, 64, 89, 69, 65,
  62, 34, 44, 34, 58, 40, 29, 55, 60, 51, 60, 56, 37, 59, 57, 30, 26, 56, 32, 88, 57, 58, 60, 60, 38, 51, 38, 57, 53,
  74, 54, 52, 51, 38, 25, 38, 54,
];
/** Of other letters: those of the face are about so wide, ideographs as wide as they are high. */
const [OTHER, WIDE] = [0.68, 1];

/** How wide a text is in the face of names. */
export function boldWidth(text: string, size: number): number {
  let width = 0;
  for (const letter of text) {
    const code = letter.codePointAt(0)!;
    const known = ADVANCES[code - 32];
    width += known === undefined ? (code >= 0x2e80 ? WIDE : OTHER) : known / 100;
  }
  return width * size;
}
