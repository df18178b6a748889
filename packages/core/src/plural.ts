/** A number with the word for what is counted: "1 block", "3 blocks", "2 addresses". */
export const plural = (n: number, singular: string, several = `${singular}s`): string =>
  `${n} ${n === 1 ? singular : several}`;
