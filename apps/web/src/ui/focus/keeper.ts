/**
 * Where the focus is, and where it goes when what had it is taken away: never to nowhere (WCAG 2.4.3). What a dialog or a
 * list does with the focus by itself goes first; this looks only at what is left.
 */
import { FOCUSABLE, canHaveFocus, enter } from './focusable';

/** Parts in which one goes on when something in them is gone. */
const PARTS = '[role=dialog], aside, main, nav, header';
/** Where the keys of a page act, the best first: what has the focus when nothing else can. */
const HOMES = ['[role=dialog]', '.react-flow__node.selected', '.drawing', '[role=tree]', '[role=grid]', 'main', 'h1'];
/** Tools beside what one works at: a press of the mouse on them leaves the focus there. */
const TOOLS = '[role=toolbar] button, header button, footer button, [data-tools] button';

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
  // Who types quickly must not be heard where nothing is: not even by the next key.
  const onKeyDown = (): void => {
    if (isWaiting) recover();
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
  document.addEventListener('keydown', onKeyDown, true);
  document.addEventListener('pointerdown', onPointerDown, true);
  document.addEventListener('click', onClick, true);
  return () => {
    watcher.disconnect();
    document.removeEventListener('focusin', onFocusIn);
    document.removeEventListener('focusout', soon);
    document.removeEventListener('keydown', onKeyDown, true);
    document.removeEventListener('pointerdown', onPointerDown, true);
    document.removeEventListener('click', onClick, true);
    last = null;
    before = [];
  };
}
