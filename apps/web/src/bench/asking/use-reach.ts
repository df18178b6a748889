import { useEffect, useState } from 'react';
import { type Mark, type Marks } from '../../drawing/marks';
import { type ReachAnswer } from '../../workers/reach-answer';

const MARKS: Readonly<Record<'yes' | 'no' | 'uncertain', Mark>> = { yes: 'met', no: 'lost', uncertain: 'unsure' };
const NO_LINKS: Marks['links'] = new Map();

/** Who one device reaches: marks on the drawing, and how many of those that have an address. */
export interface Reach {
  marks: Marks;
  reached: number;
  of: number;
}

/** Who one device reaches, as marks on the drawing and in words; null while the lens is off or nobody is asked about. */
export function useReach(
  ask: (kind: 'reach', from: string) => Promise<ReachAnswer>,
  from: string | null,
): Reach | null {
  const [answer, setAnswer] = useState<ReachAnswer | null>(null);
  useEffect(() => {
    if (from === null) return;
    let current = true;
    void ask('reach', from).then((answer) => current && setAnswer(answer));
    return () => {
      current = false;
    };
  }, [ask, from]);
  if (from === null || answer?.from !== from) return null;
  const devices = Object.entries(answer.devices);
  return {
    marks: { devices: new Map(devices.map(([id, { answer }]) => [id, MARKS[answer]])), links: NO_LINKS },
    reached: devices.filter(([, { answer }]) => answer === 'yes').length,
    of: devices.length,
  };
}
