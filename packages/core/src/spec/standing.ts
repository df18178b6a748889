import { type CheckResult, type RequirementResult } from './result';
import { type Spec } from './schema';

/** The key of the item that says what a requirement waits for. */
export const STANDS_ON = 'standsOn';

/** Requirements count nothing as long as one on which they, or their section, stand is not met. */
export function standing(spec: Spec, results: RequirementResult[]): RequirementResult[] {
  const bases = new Map(
    spec.sections.flatMap(({ standsOn = [], requirements }) =>
      requirements.map(
        (each) => [each.id, [...(each.standsOn ?? []), ...standsOn.filter((id) => id !== each.id)]] as const,
      ),
    ),
  );
  const known = new Map(results.map((result) => [result.id, result]));
  /** Those that hold nothing back; what does not apply asks for nothing. */
  const holds = (id: string, asking: ReadonlySet<string>): boolean => {
    const result = known.get(id);
    if (!result || asking.has(id)) return true;
    if (result.verdict !== 'met' && result.verdict !== 'notApplying') return false;
    return (bases.get(id) ?? []).every((base) => holds(base, new Set([...asking, id])));
  };
  return results.map((result) => {
    const waitsFor = (bases.get(result.id) ?? []).filter((id) => !holds(id, new Set([result.id])));
    if (!waitsFor.length || result.deduction || result.verdict === 'notApplying') return result;
    const isOpen = result.points > 0 && waitsFor.some((id) => known.get(id)?.verdict === 'unjudged');
    const text = `It counts once ${waitsFor.join(' and ')} ${waitsFor.length === 1 ? 'is' : 'are'} met.`;
    return {
      ...result,
      points: 0,
      verdict: isOpen ? 'unjudged' : 'lost',
      waitsFor,
      items: [
        { key: STANDS_ON, code: 'LOST', text, met: isOpen ? null : false, places: [], weight: 0 },
        ...result.items,
      ],
    };
  });
}

/** What is needed to pass whatever the points, and was not reached. */
export function hurdles(
  spec: Spec,
  sections: CheckResult['sections'],
  results: readonly RequirementResult[],
): Pick<CheckResult, 'hurdlesMissed'> {
  const all = spec.sections.flatMap(({ id, title, hurdle, requirements }): (string | null)[] => {
    const own = requirements.flatMap((each) => {
      if (!each.hurdle) return [];
      const verdict = results.find((result) => result.id === each.id)!.verdict;
      return verdict === 'met' || verdict === 'notApplying' ? [null] : [`${each.id} is needed to pass and is not met.`];
    });
    const { points, of } = sections.find((section) => section.id === id)!;
    const share = of ? Math.floor((100 * points) / of) : 100;
    const whole =
      hurdle === undefined
        ? []
        : [share >= hurdle ? null : `${title}: ${share} % of its points, ${hurdle} % are needed to pass.`];
    return [...own, ...whole];
  });
  return all.length ? { hurdlesMissed: all.filter((text) => text !== null) } : {};
}
