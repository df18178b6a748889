import { Alert, Snackbar } from '@mui/material';
import { useEffect, useState } from 'react';
import { Heard } from '../announce';

/** Fields whose text is lost when the dialog around them goes; what one only searches by is none. */
const FIELDS =
  'textarea, input:not([type=checkbox], [type=radio], [type=file], [type=search], [type=range], [role=combobox], [readonly])';
/** What takes with it what is typed in it, when it is closed: dialogs, and panels with a draft that nobody took yet. */
const LOSING = '[role=dialog], aside:has([data-draft])';
/** Fewer letters are typed anew as soon as one is asked. */
const WORTH_ASKING = 3;

/** What stood in fields when one came to them. */
const first = new WeakMap<Element, string>();

/** Whether something was typed in a dialog that goes with it. */
function isTypedIn(dialog: Element): boolean {
  return [...dialog.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>(FIELDS)].some((field) => {
    const before = first.get(field);
    return before !== undefined && field.value !== before && field.value.trim().length >= WORTH_ASKING;
  });
}

/**
 * Asks before Escape, or a press beside a dialog, throws away what was typed in it: the first time it says so, the second
 * time it is meant. Once on a page.
 */
export function TypedGuard() {
  /** The dialog or panel that was asked about. */
  const [asked, setAsked] = useState<Element | null>(null);
  useEffect(() => {
    const onFocusIn = ({ target }: FocusEvent): void => {
      if (target instanceof Element && target.matches(FIELDS) && !first.has(target))
        first.set(target, (target as HTMLInputElement).value);
    };
    const guard = (event: Event, dialog: Element | null): void => {
      if (!dialog || dialog === asked || !isTypedIn(dialog)) return;
      event.preventDefault();
      event.stopPropagation();
      setAsked(dialog);
    };
    const onKeyDown = (event: KeyboardEvent): void => {
      const { target } = event;
      if (!(target instanceof Element)) return;
      // What is typed after all is worth asking about again; an open list is closed first.
      if (event.key !== 'Escape') return setAsked(null);
      if (target.getAttribute('aria-expanded') !== 'true') guard(event, target.closest(LOSING));
    };
    const onClick = (event: MouseEvent): void => {
      const { target } = event;
      if (target instanceof Element && target.matches('.MuiDialog-container'))
        guard(event, target.querySelector('[role=dialog]'));
    };
    document.addEventListener('focusin', onFocusIn);
    window.addEventListener('keydown', onKeyDown, true);
    window.addEventListener('click', onClick, true);
    return () => {
      document.removeEventListener('focusin', onFocusIn);
      window.removeEventListener('keydown', onKeyDown, true);
      window.removeEventListener('click', onClick, true);
    };
  }, [asked]);
  return (
    <Heard>
      <Snackbar
        open={asked?.isConnected ?? false}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
        sx={{ zIndex: (theme) => theme.zIndex.modal + 1 }}
      >
        <Alert severity="warning" role="alert">
          What you typed is not taken yet. Press Escape once more to throw it away.
        </Alert>
      </Snackbar>
    </Heard>
  );
}
