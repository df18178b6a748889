/**
 * Diagnosis. In: a lab, what was handed in, and its result. Out: the few mistakes behind what failed, each with the repair
 * that would win it back, and the mark where each of them costs once.
 */
export { type Bounds, type DiagnosisProgress, MOST_RUNS, diagnose } from './diagnose';
