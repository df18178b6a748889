import { counted } from '../ui/mark-words';
import { type ResultsView } from '@sobrin/contracts';

/** The share of points won for each requirement over all who were checked, from 0 to 1; null where nobody was. */
export function shares(results: ResultsView): { id: string; share: number | null }[] {
  return results.requirements.map(({ id }) => {
    const cells = results.rows.flatMap((row) => row.cells.filter((cell) => cell.id === id));
    const of = cells.reduce((sum, cell) => sum + cell.of, 0);
    return { id, share: of ? cells.reduce((sum, cell) => sum + cell.points, 0) / of : null };
  });
}

export interface Bin {
  from: number;
  to: number;
  names: string[];
}

/** The rows that are judged by one version: marks of another one are of another whole. */
export const comparable = ({ rows }: ResultsView): (ResultsView['rows'][number] & { points: number })[] =>
  rows.flatMap((row) =>
    row.points === null || row.stale ? [] : [{ ...row, points: counted({ ...row, points: row.points }) }],
  );

/** Marks in about ten steps of whole points from 0, each without its upper end but the last, which ends with the full mark. */
export function distribution(results: ResultsView): Bin[] {
  const width = Math.max(1, Math.ceil(results.of / 10));
  const steps = Math.max(1, Math.ceil(results.of / width));
  const bins = Array.from({ length: steps }, (_one, at): Bin => ({
    from: at * width,
    to: Math.min((at + 1) * width, Math.max(width, results.of)),
    names: [],
  }));
  for (const { points, name } of comparable(results))
    bins[Math.min(steps - 1, Math.max(0, Math.floor(points / width)))]!.names.push(name);
  return bins;
}

export function median(values: readonly number[]): number | null {
  if (!values.length) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = Math.floor(sorted.length / 2);
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

export const mean = (values: readonly number[]): number | null =>
  values.length ? values.reduce((sum, value) => sum + value, 0) / values.length : null;
