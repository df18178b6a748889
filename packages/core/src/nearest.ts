import { distance } from 'fastest-levenshtein';

/** Words that differ from a text in a letter or two, the nearest first; of short ones in one letter only. */
export function nearestWords(text: string, words: readonly string[]): string[] {
  const wanted = text.toLowerCase();
  const most = wanted.length > 4 ? 2 : 1;
  if (wanted.length < 3 || wanted.length > 40) return [];
  return [...new Set(words)]
    .map((word) => ({ word, away: distance(wanted, word.toLowerCase()) }))
    .filter(({ away }) => away <= most)
    .sort((a, b) => a.away - b.away)
    .map(({ word }) => word);
}
