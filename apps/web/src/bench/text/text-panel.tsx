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
import { applyEdits } from '@sobrin/core/changes';
import { kitRefusalOf } from '@sobrin/core/editing';
import { readYaml, writeYaml, yamlHints } from '@sobrin/core/formats';
import { type Policy } from '@sobrin/core/spec';
import { useEffect, useRef, useState } from 'react';
import { nonce } from '../../ui/nonce';
import { SidePanel } from '../../ui/side-panel';
import { TextSync } from './text-sync';
import { useBench, useBenchId, useBenchStore } from '../use-bench';
import { goBack } from '../../ui/focus/keeper';

/** So long after the last key what was typed is read. */
const PAUSE_MS = 350;
const fromDrawing = Annotation.define<boolean>();

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

export interface TextPanelProps {
  kit: Policy['kit'];
  onClose: () => void;
}

/** The drawing as a text beside it: both can be changed, and each follows the other. */
export default function TextPanel({ kit, onClose }: TextPanelProps) {
  const store = useBenchStore();
  const topology = useBench((state) => state.document);
  const element = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const sync = useRef<TextSync | null>(null);
  const key = `sobrin text of ${useBenchId()}`;
  /** What was filled in at the last reading. */
  const [filled, setFilled] = useState<readonly { line: number; text: string }[]>([]);
  const [mistakes, setMistakes] = useState<readonly { line: number; text: string }[]>([]);

  useEffect(() => {
    const { document } = store.getState();
    // The author's own text, with its comments, where this browser has it; else a fresh one.
    const kept = localStorage.getItem(key);
    const read = kept === null ? null : readYaml(kept);
    const made = new TextSync(
      kept !== null && read?.ok ? kept : writeYaml(document),
      read?.ok ? read.value.topology : document,
    );
    const first = made.drawn(document) ?? made.text;
    sync.current = made;
    let timer: number | undefined;
    const take = (text: string): void => {
      const edits = made.typed(text);
      const { document: now, do: run } = store.getState();
      const why = edits.length ? kitRefusalOf(now, applyEdits(now, edits).document, kit) : null;
      if (why !== null || (edits.length && !run('edit the text', { kind: 'edits', edits }))) {
        made.refused(now);
        setMistakes([{ line: 1, text: why ?? store.getState().refusal ?? 'The change was not taken.' }]);
        return;
      }
      setMistakes(made.problems);
      setFilled(made.filled);
      keep(key, text);
      const editor = view.current;
      if (!editor) return;
      const { length } = editor.state.doc;
      editor.dispatch(
        setDiagnostics(
          editor.state,
          made.problems.map(({ from, to, text: message }) => ({
            from: Math.min(from, length),
            to: Math.min(to, length),
            severity: 'error' as const,
            message,
          })),
        ),
      );
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
          EditorView.contentAttributes.of({ 'aria-label': 'Text of the drawing' }),
          autocompletion({
            override: [
              ({ state, pos, explicit }) => {
                const hints = yamlHints(state.doc.toString(), pos, store.getState().document);
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
            if (!update.docChanged || update.transactions.some((transaction) => transaction.annotation(fromDrawing)))
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
  }, [store, key, kit]);

  useEffect(() => {
    const editor = view.current;
    if (!editor || editor.state.doc.toString() !== sync.current?.text) return;
    const text = sync.current.drawn(topology);
    if (text === null) return;
    editor.dispatch({ changes: changedPart(editor.state.doc.toString(), text), annotations: fromDrawing.of(true) });
    keep(key, text);
  }, [topology, key]);

  return (
    <SidePanel label="Text" bare wide onClose={onClose}>
      <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
        <Box sx={{ display: 'flex', alignItems: 'start', p: 1.5, pb: 1 }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="h2" sx={{ fontSize: 16 }}>
              Text of the drawing
            </Typography>
            <Typography variant="body2" color="text.secondary">
              Comments after # are yours: they stay in this browser, and in what you save as YAML.
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
              The drawing follows the text.
              {filled.slice(0, 5).map(({ line, text }, at) => (
                <div key={at}>
                  Line {line}: {text}
                </div>
              ))}
            </Typography>
          ) : (
            <>
              <Typography variant="body2">
                <b>{plural(mistakes.length, 'mistake')}</b>: the drawing waits until{' '}
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
