import { create } from 'zustand';
import { goToPart } from '../focus/parts';
import { KeysDialog } from './keys-dialog';
import { useShortcuts } from './shortcuts';

/** Whether the keys of the page are shown. */
export const useKeysShown = create<{ isShown: boolean; show: (isShown: boolean) => void }>()((set) => ({
  isShown: false,
  show: (isShown) => set({ isShown }),
}));

/** Keys that every page has. */
export function PageKeys() {
  const { isShown, show } = useKeysShown();
  useShortcuts([
    { id: 'keys', text: 'Show these keys', keys: '?', run: () => show(true) },
    {
      id: 'part',
      text: 'Next part of the page, or the part before',
      keys: ['F6', 'Shift F6'],
      run: (chord) => goToPart(chord === 'F6' ? 1 : -1),
    },
  ]);
  return isShown && <KeysDialog onClose={() => show(false)} />;
}
