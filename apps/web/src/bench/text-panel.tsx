import { applyEdits } from '@sobrin/core/changes';
import { kitRefusalOf } from '@sobrin/core/editing';
import { yamlHints } from '@sobrin/core/formats';
import { type Policy } from '@sobrin/core/spec';
import { TextBeside } from '../text/text-beside';
import { DRAWING_TEXT } from './drawing-text';
import { useBench, useBenchId, useBenchStore } from './use-bench';

export interface TextPanelProps {
  kit: Policy['kit'];
  onClose: () => void;
}

/** The drawing as a text beside it. */
export default function TextPanel({ kit, onClose }: TextPanelProps) {
  const store = useBenchStore();
  const topology = useBench((state) => state.document);
  return (
    <TextBeside
      what="drawing"
      isFile
      kept={`sobrin text of ${useBenchId()}`}
      form={DRAWING_TEXT}
      document={topology}
      latest={() => store.getState().document}
      take={(edits) => {
        const { document, do: run } = store.getState();
        const why = kitRefusalOf(document, applyEdits(document, edits).document, kit);
        if (why !== null) return why;
        if (run('edit the text', { kind: 'edits', edits })) return null;
        return store.getState().refusal ?? 'The change was not taken.';
      }}
      hintsAt={(text, offset) => yamlHints(text, offset, store.getState().document)}
      onClose={onClose}
    />
  );
}
