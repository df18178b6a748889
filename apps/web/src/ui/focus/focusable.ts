/** What can have the focus by Tab. */
export const FOCUSABLE =
  'a[href], button, input, select, textarea, summary, [contenteditable=true], [tabindex]:not([tabindex="-1"])';

/** Whether it is there, and can be used. */
export const canHaveFocus = (element: Element): element is HTMLElement | SVGElement =>
  element.isConnected &&
  (element instanceof HTMLElement || element instanceof SVGElement) &&
  !element.matches(':disabled, [aria-hidden=true] *, [inert] *') &&
  (typeof element.checkVisibility !== 'function' || element.checkVisibility({ visibilityProperty: true }));

/** Gives the focus to a part that has none by Tab, such as a page. */
export function enter(home: HTMLElement | SVGElement): void {
  if (home.tabIndex < 0 && !home.hasAttribute('tabindex')) home.tabIndex = -1;
  home.focus({ preventScroll: true });
}
