import { autocompletion, closeBrackets, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { yaml } from '@codemirror/lang-yaml';
import { HighlightStyle, bracketMatching, indentOnInput, syntaxHighlighting } from '@codemirror/language';
import { lintGutter, setDiagnostics } from '@codemirror/lint';
import { Annotation, EditorState } from '@codemirror/state';
import { EditorView, drawSelection, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { Box, IconButton, Typography } from '@mui/material';
import { IconX } from '@tabler/icons-react';
import { plural } from '@sobrin/core';
import { type Edit } from '@sobrin/core/changes';
import { type Hints, type TextProblem } from '@sobrin/core/formats';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { goBack } from '../ui/focus/keeper';
import { nonce } from '../ui/nonce';
import { SidePanel } from '../ui/side-panel';
import { type TextForm, TextSync } from './text-sync';

/** So long after the last key what was typed is read. */
const PAUSE_MS = 350;
const fromDocument = Annotation.define<boolean>();

const LOOK = EditorView.theme({
  '&': { height: '100%', fontSize: '12.5px', color: 'var(--ink)', backgroundColor: 'var(--surface)' },
  '&.cm-focused': { outline: '2px solid var(--spruce)', outlineOffset: '-2px' },
  '.cm-lint-marker-error': {
    content: 'none',
    width: '8px',
    height: '8px',
    margin: '5px 2px',
    borderRadius: '2px',
    background: 'var(--brick)',
  },
  '.cm-lint-marker-warning': {
    content: 'none',
    width: '8px',
    height: '8px',
    margin: '5px 2px',
    borderRadius: '50%',
    background: 'var(--ochre)',
  },
  '.cm-content': { fontFamily: 'var(--mono)', caretColor: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'var(--surface)', color: 'var(--ink3)', border: 'none', fontFamily: 'var(--mono)' },
  '.cm-activeLine': { backgroundColor: 'color-mix(in srgb, var(--spruce-tint) 45%, transparent)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { backgroundColor: 'var(--spruce-tint) !important' },
  '.cm-tooltip': { backgroundColor: 'var(--surface)', color: 'var(--ink)', border: '1px solid var(--line2)' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--spruce)', color: 'var(--on-spruce)' },
  '.cm-completionDetail': { color: 'inherit', opacity: 0.75, fontStyle: 'normal' },
});
const TONES = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: 'var(--spruce)', fontWeight: '600' },
  { tag: tags.comment, color: 'var(--plum)', fontStyle: 'italic' },
  { tag: [tags.string, tags.content], color: 'var(--ink)' },
  { tag: [tags.punctuation, tags.separator, tags.bracket], color: 'var(--ink3)' },
]);

/**
 * A document as a text beside it: both can be changed, and each follows the other.
 *
 * @param what what it is, in a word
 * @param isFile whether it can be saved as a file of this form
 * @param kept under what name this browser keeps the author's own text, with its comments
 * @param latest the document as it is at that moment
 * @param take makes changes that were typed; why they are not taken, as a sentence, where they are not
 * @param remarks what is to be said of a text that can be read, with its places
 */
export function TextBeside<D extends object>({
  what,
  isFile = false,
  kept: key,
  form,
  document,
  latest,
  take: takeEdits,
  hintsAt,
  remarks,
  onClose,
}: {
  what: string;
  isFile?: boolean;
  kept: string;
  form: TextForm<D>;
  document: D;
  latest: () => D;
  take: (edits: Edit[]) => string | null;
  hintsAt: (text: string, offset: number) => Hints | null;
  remarks?: (text: string) => readonly TextProblem[];
  onClose: () => void;
}) {
  const element = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const sync = useRef<TextSync<D> | null>(null);
  /** What was filled in at the last reading. */
  const [filled, setFilled] = useState<readonly Told[]>([]);
  const [mistakes, setMistakes] = useState<readonly Told[]>([]);
  const [remarked, setRemarked] = useState<readonly Told[]>([]);
  const current = useRef({ latest, takeEdits, hintsAt, remarks });
  useLayoutEffect(() => {
    current.current = { latest, takeEdits, hintsAt, remarks };
  });

  useEffect(() => {
    const now = (): D => current.current.latest();
    const kept = localStorage.getItem(key);
    const read = kept === null ? null : form.read(kept);
    const begun = now();
    const made = new TextSync(
      form,
      kept !== null && read?.ok ? kept : form.write(begun),
      read?.ok ? read.value.document : begun,
    );
    const first = made.changed(begun) ?? made.text;
    sync.current = made;
    let timer: number | undefined;
    const take = (text: string): void => {
      const edits = made.typed(text);
      const why = edits.length ? current.current.takeEdits(edits) : null;
      if (why !== null) {
        made.refused(now());
        setMistakes([{ line: 1, text: why }]);
        return;
      }
      setMistakes(made.problems);
      setFilled(made.filled);
      keep(key, text);
      if (view.current) mark(view.current, made.problems, []);
    };
    const editor = new EditorView({
      parent: element.current!,
      state: EditorState.create({
        doc: first,
        extensions: [
          lineNumbers(),
          lintGutter(),
          history(),
          drawSelection(),
          indentOnInput(),
          bracketMatching(),
          closeBrackets(),
          highlightActiveLine(),
          yaml(),
          syntaxHighlighting(TONES),
          LOOK,
          ...(nonce ? [EditorView.cspNonce.of(nonce)] : []),
          EditorView.contentAttributes.of({ 'aria-label': `Text of the ${what}`, tabindex: '0' }),
          autocompletion({
            override: [
              ({ state, pos, explicit }) => {
                const hints = current.current.hintsAt(state.doc.toString(), pos);
                if (!hints || (!explicit && hints.from === pos)) return null;
                return {
                  from: hints.from,
                  options: hints.options.map(({ label, detail, insert }) => ({ label, detail, apply: insert })),
                };
              },
            ],
          }),
          keymap.of([
            ...completionKeymap,
            ...historyKeymap,
            ...defaultKeymap,
            { key: 'Escape', run: ({ contentDOM }) => (goBack(contentDOM), true) },
          ]),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged || update.transactions.some((transaction) => transaction.annotation(fromDocument)))
              return;
            window.clearTimeout(timer);
            timer = window.setTimeout(() => take(update.state.doc.toString()), PAUSE_MS);
          }),
        ],
      }),
    });
    view.current = editor;
    return () => {
      // What was typed last is taken as well.
      window.clearTimeout(timer);
      if (editor.state.doc.toString() !== made.text) take(editor.state.doc.toString());
      view.current = null;
      editor.destroy();
    };
  }, [key, form, what]);

  useEffect(() => {
    const editor = view.current;
    if (!editor || editor.state.doc.toString() !== sync.current?.text) return;
    const text = sync.current.changed(document);
    if (text === null) return;
    editor.dispatch({
      changes: changedPart(editor.state.doc.toString(), text),
      annotations: fromDocument.of(true),
    });
    keep(key, text);
  }, [document, key]);

  useEffect(() => {
    const [editor, made] = [view.current, sync.current];
    if (!editor || !made || !remarks || editor.state.doc.toString() !== made.text || made.problems.length) return;
    const found = remarks(made.text);
    mark(editor, [], found);
    setRemarked(found);
  }, [remarks, document, mistakes]);

  return (
    <SidePanel label="Text" bare wide onClose={onClose}>
      <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
        <Box sx={{ display: 'flex', alignItems: 'start', p: 1.5, pb: 1 }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="h2" sx={{ fontSize: 16 }}>
              Text of the {what}
            </Typography>
            <Typography variant="body2" color="text.secondary">
              Comments after # are yours: they stay in this browser{isFile && ', and in what you save as YAML'}.
            </Typography>
          </Box>
          <IconButton size="small" aria-label="Close the text" onClick={onClose}>
            <IconX size={16} />
          </IconButton>
        </Box>
        <Box ref={element} sx={{ flex: 1, minHeight: 0, borderTop: '1px solid var(--line)' }} />
        <Box
          role="status"
          sx={{
            borderTop: '1px solid var(--line)',
            p: 1,
            px: 1.5,
            maxHeight: 110,
            overflowY: 'auto',
            ...(mistakes.length && { background: 'var(--brick-tint)' }),
          }}
        >
          {mistakes.length === 0 ? (
            <Typography variant="body2" color="text.secondary" component="div">
              The {what} follows the text.
              {[...remarked, ...filled].slice(0, 5).map(({ line, text }, at) => (
                <div key={at}>
                  Line {line}: {text}
                </div>
              ))}
            </Typography>
          ) : (
            <>
              <Typography variant="body2">
                <b>{plural(mistakes.length, 'mistake')}</b>: the {what} waits until{' '}
                {mistakes.length === 1 ? 'it is' : 'they are'} mended.
              </Typography>
              {mistakes.slice(0, 5).map(({ line, text }, at) => (
                <Typography key={at} variant="body2">
                  Line {line}: {text}
                </Typography>
              ))}
            </>
          )}
        </Box>
      </Box>
    </SidePanel>
  );
}

interface Told {
  readonly line: number;
  readonly text: string;
}

/** Marks mistakes and remarks where they stand. */
function mark(editor: EditorView, problems: readonly TextProblem[], remarks: readonly TextProblem[]): void {
  const { length } = editor.state.doc;
  const as = (severity: 'error' | 'warning') => (problem: TextProblem) => ({
    from: Math.min(problem.from, length),
    to: Math.min(problem.to, length),
    severity,
    message: problem.text,
  });
  editor.dispatch(setDiagnostics(editor.state, [...problems.map(as('error')), ...remarks.map(as('warning'))]));
}

/** The part in which two texts differ, so that cursor and sight stay where they are. */
function changedPart(old: string, text: string): { from: number; to: number; insert: string } {
  let from = 0;
  while (from < old.length && from < text.length && old[from] === text[from]) from++;
  let end = 0;
  while (end < old.length - from && end < text.length - from && old.at(-1 - end) === text.at(-1 - end)) end++;
  return { from, to: old.length - end, insert: text.slice(from, text.length - end) };
}

/** Keeps a text in this browser; where there is no room for it, only its comments are lost. */
function keep(key: string, text: string): void {
  try {
    localStorage.setItem(key, text);
  } catch {
    localStorage.removeItem(key);
  }
}
