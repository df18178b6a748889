import { FOCUSABLE, canHaveFocus, enter } from './focusable';

/** Parts of a page that one goes through, each by what is chosen in it. */
const LANDMARKS = 'nav, header, .drawing, [role=tree], [role=grid], section[aria-label], aside, footer';

/** To the next part of the page that can have the focus, or to the one before. */
export function goToPart(by: 1 | -1): void {
  const parts = [...document.querySelectorAll(LANDMARKS)].filter(
    (part) =>
      canHaveFocus(part) && (part.matches('.drawing, [role=tree], [role=grid]') || part.querySelector(FOCUSABLE)),
  );
  const outer = parts.filter((part) => !parts.some((other) => other !== part && other.contains(part)));
  const here = outer.findIndex((part) => part.contains(document.activeElement));
  for (let step = 1; step <= outer.length; step++) {
    const part = outer.at((here + by * step + outer.length * 2) % outer.length)!;
    const first =
      part.querySelector('.react-flow__node.selected, [aria-current=page], [aria-current=true]') ??
      (part.matches('.drawing, [tabindex="0"]') ? part : [...part.querySelectorAll(FOCUSABLE)].find(canHaveFocus)) ??
      part;
    if (!canHaveFocus(first)) continue;
    enter(first);
    if (document.activeElement === first) return;
  }
}
