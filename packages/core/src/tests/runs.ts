/** How often a random test runs: so many times with the other tests, and ten times as often in `npm run fuzz`. */
export const runs = (count: number): number => count * Number(process.env.SOBRIN_RUNS ?? 1);
