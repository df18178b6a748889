import '@testing-library/jest-dom';
import { configure } from '@testing-library/react';

// A second is the default; a machine that others use takes longer.
configure({ asyncUtilTimeout: 30_000 });

/** jsdom has no EventSource: in these tests nobody else saves. */
class Silent {
  addEventListener(): void {}
  close(): void {}
}
/** Nor has it a layout whose sizes could change. */
class Still {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
Object.assign(globalThis, { EventSource: Silent, ResizeObserver: Still });

/**
 * No rules of styles are here, so what an element is shown as stands at itself, or at those around it where it is handed
 * down. jsdom would go through all its own rules for each element whose visibility is asked for.
 */
const NOT_SHOWN = new Set(['HEAD', 'SCRIPT', 'STYLE', 'TEMPLATE', 'TITLE']);
const HANDED_DOWN = ['visibility', 'pointer-events', 'direction'];
window.getComputedStyle = (element) => {
  const style = document.createElement('span').style;
  style.cssText = (element as HTMLElement).style?.cssText ?? '';
  if (NOT_SHOWN.has(element.tagName) || (element as HTMLElement).hidden) style.display = 'none';
  else style.display ||= 'block';
  for (const property of HANDED_DOWN)
    for (let at = element.parentElement; at && !style.getPropertyValue(property); at = at.parentElement)
      style.setProperty(property, at.style?.getPropertyValue(property) ?? '');
  return style;
};
