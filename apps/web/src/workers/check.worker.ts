import { type JudgingLab, type Plan, type Topology, checkSubmission } from '@sobrin/core';

/** Checks a drawing against a lab in the background: the instructor's own reference against the spec being written. */
self.onmessage = ({ data }: MessageEvent<{ turn: number; lab: JudgingLab; drawing: Topology; plan: Plan }>) => {
  try {
    const { requirements, points, of } = checkSubmission(data.lab, data.drawing, data.plan);
    self.postMessage({
      turn: data.turn,
      result: { points, of, requirements: requirements.map(({ id, verdict, items }) => ({ id, verdict, items })) },
    });
  } catch {
    self.postMessage({ turn: data.turn, result: null });
  }
};
