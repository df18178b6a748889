/**
 * Where the focus is, and where it goes when what had it is taken away: never to nowhere (WCAG 2.4.3). What a dialog or a
 * list does with the focus by itself goes first; this looks only at what is left.
 */

/** What can have the focus by Tab. */
const FOCUSABLE =
  'a[href], button, input, select, textarea, summary, [contenteditable=true], [tabindex]:not([tabindex="-1"])';
/** Parts in which one goes on when something in them is gone. */
const PARTS = '[role=dialog], aside, main, nav, header';
/** Where the keys of a page act, the best first: what has the focus when nothing else can. */
const HOMES = ['[role=dialog]', '.react-flow__node.selected', '.drawing', '[role=tree]', '[role=grid]', 'main', 'h1'];
/** Tools beside what one works at: a press of the mouse on them leaves the focus there. */
const TOOLS = '[role=toolbar] button, header button, footer button, [data-tools] button';

const canHaveFocus = (element: Element): element is HTMLElement | SVGElement =>
  element.isConnected &&
  (element instanceof HTMLElement || element instanceof SVGElement) &&
  !element.matches(':disabled, [aria-hidden=true] *, [inert] *') &&
  (typeof element.checkVisibility !== 'function' || element.checkVisibility({ visibilityProperty: true }));

/** What had the focus last, and what stood round it then, in the order of Tab. */
let last: { element: Element; round: Element[] } | null = null;
/** What had it before, the latest at the end. */
let before: Element[] = [];
const MOST_REMEMBERED = 12;

function remember(element: Element): void {
  const part = element.closest(PARTS) ?? document.body;
  last = { element, round: [...part.querySelectorAll(FOCUSABLE)] };
  before = [...before.filter((each) => each !== element && each.isConnected), element].slice(-MOST_REMEMBERED);
}

/** Gives the focus to a part that has none by Tab, such as a page. */
function enter(home: HTMLElement | SVGElement): void {
  if (home.tabIndex < 0 && !home.hasAttribute('tabindex')) home.tabIndex = -1;
  home.focus({ preventScroll: true });
}

/** Whether something of a drawing is where one looks: else the drawing would fly there, and nobody asked it to. */
function isInSight(element: Element): boolean {
  const drawing = element.closest('.drawing')?.getBoundingClientRect();
  const { left, right, top, bottom } = element.getBoundingClientRect();
  return !drawing || (right >= drawing.left && left <= drawing.right && bottom >= drawing.top && top <= drawing.bottom);
}

/** The part of the page where its keys act. */
export function goHome(): void {
  for (const selector of HOMES) {
    const home = [...document.querySelectorAll(selector)].find((each) => canHaveFocus(each) && isInSight(each));
    if (home && canHaveFocus(home)) return enter(home);
  }
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
}

/**
 * After something was done from a field: to the page at once, so that the next key is heard there, and then to what came
 * of it, which is drawn only later.
 */
export function goToOutcome(): void {
  goHome();
  const first = document.activeElement;
  requestAnimationFrame(() => requestAnimationFrame(() => document.activeElement === first && goHome()));
}

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

/** From a field or a panel back to where one was before, as Escape means it. */
export function goBack(from: Element): void {
  const part = from.closest('aside') ?? from;
  const to = before.findLast((each) => !part.contains(each) && canHaveFocus(each) && isWorkedAt(each));
  if (to && canHaveFocus(to)) to.focus({ preventScroll: true });
  else goHome();
}

/** Where the keys of the page are heard: not in bars, where they would be silent. */
const isWorkedAt = (element: Element): boolean =>
  element.closest('.drawing, main') !== null &&
  !element.closest('input, select, textarea, button:not([data-line]), header, footer, nav, aside, [role=toolbar]');

/** Gives the focus to the neighbour of what is gone, else to what had it before, else to the page. */
function recover(): void {
  const { activeElement } = document;
  if (!last || (activeElement && activeElement !== document.body && !activeElement.matches(':disabled'))) return;
  const { element, round } = last;
  if (canHaveFocus(element)) {
    // Somebody left it: a press beside it is no loss.
    last = null;
    return;
  }
  const at = round.indexOf(element);
  const neighbours = at < 0 ? [] : [...round.slice(at + 1), ...round.slice(0, at).toReversed()];
  // Of a drawing what is like it: a device where a device is gone, not the first link.
  const isNode = element.matches('.react-flow__node');
  const next = isNode
    ? neighbours.find((each) => each.matches('.react-flow__node') && canHaveFocus(each) && isInSight(each))
    : (neighbours.find(canHaveFocus) ?? before.findLast((each) => canHaveFocus(each) && isWorkedAt(each)));
  if (next && canHaveFocus(next)) next.focus({ preventScroll: true });
  else goHome();
}

/** Watches the focus of the page; to be called once. Out: ends it. */
export function keepFocus(): () => void {
  let isWaiting = false;
  /** After the page was changed, and after what it changes thereby. */
  const soon = (): void => {
    if (isWaiting) return;
    isWaiting = true;
    requestAnimationFrame(() =>
      setTimeout(() => {
        isWaiting = false;
        recover();
      }),
    );
  };
  const onFocusIn = ({ target }: FocusEvent): void => {
    if (target instanceof Element && target !== document.body) remember(target);
  };
  let pressedFrom: Element | null = null;
  const onPointerDown = (): void => {
    pressedFrom = document.activeElement;
  };
  const onClick = ({ target, detail }: MouseEvent): void => {
    const tool = target instanceof Element ? target.closest(TOOLS) : null;
    if (!tool || detail === 0 || tool.closest('[role=dialog]') || document.activeElement !== tool) return;
    const back = pressedFrom;
    if (back && canHaveFocus(back) && isWorkedAt(back)) back.focus({ preventScroll: true });
    else goHome();
  };
  const watcher = new MutationObserver(soon);
  watcher.observe(document.body, {
    subtree: true,
    childList: true,
    attributes: true,
    attributeFilter: ['disabled', 'hidden', 'inert', 'aria-hidden'],
  });
  document.addEventListener('focusin', onFocusIn);
  document.addEventListener('focusout', soon);
  document.addEventListener('pointerdown', onPointerDown, true);
  document.addEventListener('click', onClick, true);
  return () => {
    watcher.disconnect();
    document.removeEventListener('focusin', onFocusIn);
    document.removeEventListener('focusout', soon);
    document.removeEventListener('pointerdown', onPointerDown, true);
    document.removeEventListener('click', onClick, true);
    last = null;
    before = [];
  };
}
