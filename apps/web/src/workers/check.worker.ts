import { type JudgingLab, type Plan, type Topology, checkSubmission, specProblems } from '@sobrin/core';

/** Checks a drawing against a lab in the background: the instructor's own reference against the spec being written. */
self.onmessage = ({ data }: MessageEvent<{ turn: number; lab: JudgingLab; drawing: Topology; plan: Plan }>) => {
  const problems = specProblems(data.lab);
  try {
    const { requirements, points, of } = checkSubmission(data.lab, data.drawing, data.plan);
    self.postMessage({
      turn: data.turn,
      problems,
      result: { points, of, requirements: requirements.map(({ id, verdict, items }) => ({ id, verdict, items })) },
    });
  } catch {
    self.postMessage({ turn: data.turn, problems, result: null });
  }
};
