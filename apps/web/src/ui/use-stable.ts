import { useCallback, useEffect, useRef } from 'react';

/** A handler that stays the same function while what it does is renewed: memoised parts that get it need not render again. */
export function useStable<A extends unknown[]>(run: (...args: A) => void): (...args: A) => void {
  const current = useRef(run);
  useEffect(() => {
    current.current = run;
  });
  return useCallback((...args: A) => current.current(...args), []);
}
