import { ok } from '@sobrin/core';
import { type SpecAround, readSpecYaml, specHints, writeSpecYaml } from '@sobrin/core/formats';
import { type Spec } from '@sobrin/core/spec';
import { type Problem } from '@sobrin/core/topology';
import { useCallback } from 'react';
import { type PartStore } from '../lab/lab-part';
import { TextBeside } from '../text/text-beside';
import { type TextForm } from '../text/text-sync';

const SPEC_TEXT: TextForm<Spec> = {
  write: writeSpecYaml,
  read: (text) => {
    const read = readSpecYaml(text);
    return read.ok ? ok({ document: read.value.spec, told: [] }) : read;
  },
};

/** The spec as a text beside it. */
export default function SpecText({
  store,
  kept,
  spec,
  around,
  problems,
  onClose,
}: {
  store: PartStore<'spec'>;
  kept: string;
  spec: Spec;
  around: Omit<SpecAround, 'spec'>;
  /** Where it points at what is not there. */
  problems: readonly Problem[];
  onClose: () => void;
}) {
  const remarks = useCallback(
    (text: string) => {
      const read = readSpecYaml(text);
      return read.ok ? read.value.placed(problems) : [];
    },
    [problems],
  );
  return (
    <TextBeside
      what="spec"
      kept={`sobrin text of ${kept}`}
      form={SPEC_TEXT}
      document={spec}
      latest={() => store.getState().document}
      take={(edits) =>
        store.getState().do('edit the text', { kind: 'edits', edits })
          ? null
          : (store.getState().refusal ?? 'The change was not taken.')
      }
      hintsAt={(text, offset) => specHints(text, offset, { ...around, spec: store.getState().document })}
      remarks={remarks}
      onClose={onClose}
    />
  );
}
