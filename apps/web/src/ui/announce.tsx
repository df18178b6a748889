import { type ReactNode, useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import { create } from 'zustand';

/** What is being said to those who do not see it happen, and which of two turns it is in. */
const useSaid = create<{ text: string; turn: 0 | 1 }>()(() => ({ text: '', turn: 0 }));

let waiting: number | undefined;
let gathered: string[] = [];
/** What comes of one thing done (it is removed, problems are now 3) is said in one go. */
const GATHER_MS = 150;

/** Says what happened, once, in a few words (WCAG 4.1.3): for what is seen but has not the focus. */
export function announce(text: string): void {
  if (gathered.includes(text)) return;
  gathered.push(text);
  window.clearTimeout(waiting);
  waiting = window.setTimeout(() => {
    const said = gathered.join('. ');
    gathered = [];
    // Two regions take turns, so that the same words are heard again.
    useSaid.setState(({ turn }) => ({ text: said, turn: turn === 0 ? 1 : 0 }));
  }, GATHER_MS);
}

/**
 * A place that is heard also while a dialog is open: what is beside a dialog is hidden from those who listen, and all of
 * the page is.
 */
export function Heard({ children }: { children: ReactNode }) {
  const [place] = useState(() => document.createElement('div'));
  useEffect(() => {
    document.body.append(place);
    const watcher = new MutationObserver(() => place.removeAttribute('aria-hidden'));
    watcher.observe(place, { attributeFilter: ['aria-hidden'] });
    return () => {
      watcher.disconnect();
      place.remove();
    };
  }, [place]);
  return createPortal(children, place);
}

/** Where it is said; once on a page. */
export function Announcer() {
  const { text, turn } = useSaid();
  return (
    <Heard>
      <div style={UNSEEN} data-announcer>
        {[0, 1].map((each) => (
          <div key={each} role="status">
            {each === turn ? text : ''}
          </div>
        ))}
      </div>
    </Heard>
  );
}

/** For those who hear a page. */
export const UNSEEN = {
  position: 'absolute',
  width: 1,
  height: 1,
  margin: -1,
  overflow: 'hidden',
  clipPath: 'inset(50%)',
  whiteSpace: 'nowrap',
} as const;

/** The title of a page, from what is most its own (WCAG 2.4.2); said when one comes there from another page. */
export function usePageTitle(...parts: readonly (string | null | undefined)[]): void {
  const title = [...parts.filter(Boolean), 'Sobrin'].join(' · ');
  useEffect(() => {
    const before = document.title;
    document.title = title;
    if (before !== 'Sobrin' && before !== title) announce(title);
  }, [title]);
}
