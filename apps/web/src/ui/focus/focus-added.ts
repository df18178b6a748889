import { flushSync } from 'react-dom';

const FIELDS = 'input, select, textarea';

/**
 * Adds something to a list, and puts the focus into the first field that was not there before; what that field begins
 * with is chosen, so that one types at once what is meant.
 */
export function focusAdded(list: Element, add: () => void): void {
  const before = new Set(list.querySelectorAll(FIELDS));
  flushSync(add);
  const added = [...list.querySelectorAll<HTMLInputElement>(FIELDS)].find((field) => !before.has(field));
  added?.focus();
  if (added && 'select' in added) added.select();
}
