import { type Plan } from '@sobrin/core/plan';
import { type JudgingLab, checkSubmission, doubtsOf, specProblems, withoutPersons } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';

/** Checks a drawing against a lab in the background: the instructor's own reference against the spec being written. */
self.onmessage = ({ data }: MessageEvent<{ turn: number; lab: JudgingLab; drawing: Topology; plan: Plan }>) => {
  const problems = specProblems(data.lab);
  try {
    // What points at nothing is mended first.
    const doubts = problems.length ? [] : doubtsOf(data.lab);
    const { requirements, points, of } = checkSubmission(
      { ...data.lab, spec: withoutPersons(data.lab.spec) },
      data.drawing,
      data.plan,
    );
    self.postMessage({
      turn: data.turn,
      problems,
      doubts,
      result: {
        points,
        of,
        requirements: requirements.map(({ id, verdict, items, given }) => ({
          id,
          verdict,
          items,
          ...(given && { given }),
        })),
      },
    });
  } catch {
    self.postMessage({ turn: data.turn, problems, doubts: [], result: null });
  }
};
