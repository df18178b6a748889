import { type Spec } from '@sobrin/core/spec';
import { useEffect, useMemo, useRef, useState } from 'react';
import { announce } from '../ui/announce';
import { isTyping } from '../ui/keys/shortcuts';
import { copiedText, pastedInto } from './spec-editor';

/** Requirements that are chosen together; they are copied and put in by the keys that people know. */
export function useChosen(spec: Spec, onChange: (spec: Spec) => void, onTrouble: (sentence: string | null) => void) {
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [last, setLast] = useState<string | null>(null);
  const order = spec.sections.flatMap(({ requirements }) => requirements.map(({ id }) => id));
  // What was removed meanwhile is chosen no more.
  const still = order.filter((id) => picked.has(id)).join(' ');
  const chosen = useMemo(() => new Set(still.split(' ').filter(Boolean)), [still]);
  const choose = (id: string, isRange: boolean): void => {
    const [from, to] = [order.indexOf(last ?? id), order.indexOf(id)];
    const range = isRange && from >= 0 ? order.slice(Math.min(from, to), Math.max(from, to) + 1) : [id];
    const next = new Set(chosen);
    if (range.length === 1 && next.has(id)) next.delete(id);
    else for (const each of range) next.add(each);
    setPicked(next);
    setLast(id);
  };
  /** Puts requirements that were copied at the end, and chooses them; whether they were any. */
  const putIn = (text: string): boolean => {
    const read = pastedInto(spec, text);
    onTrouble(read.ok ? null : read.error);
    if (!read.ok) return false;
    onChange(read.value.spec);
    setPicked(new Set(read.value.ids));
    announce(`${read.value.ids.length} put in.`);
    return true;
  };
  const latest = useRef({ spec, chosen, putIn });
  useEffect(() => {
    latest.current = { spec, chosen, putIn };
  });
  useEffect(() => {
    const isElsewhere = (): boolean =>
      isTyping(document.activeElement) || document.querySelector('[role=dialog]') !== null;
    const copy = (event: ClipboardEvent): void => {
      const { spec: now, chosen: ids } = latest.current;
      if (!ids.size || isElsewhere() || window.getSelection()?.toString()) return;
      event.clipboardData?.setData('text/plain', copiedText(now, ids));
      event.preventDefault();
      announce(`${ids.size} copied.`);
    };
    const paste = (event: ClipboardEvent): void => {
      const text = event.clipboardData?.getData('text/plain') ?? '';
      if (isElsewhere() || !text.trim()) return;
      if (latest.current.putIn(text)) event.preventDefault();
    };
    document.addEventListener('copy', copy);
    document.addEventListener('paste', paste);
    return () => {
      document.removeEventListener('copy', copy);
      document.removeEventListener('paste', paste);
    };
  }, []);
  return { chosen, choose, putIn, chooseNone: () => setPicked(new Set()) };
}
