import { type Result } from '@sobrin/core';
import { type Edit, editsBetween, sameValue } from '@sobrin/core/changes';
import { type TextProblem, updateYaml } from '@sobrin/core/formats';

/** How documents of a sort are written as texts, and read. */
export interface TextForm<D extends object> {
  readonly write: (document: D) => string;
  /** `told` is what the text left out and was filled in. */
  readonly read: (text: string) => Result<{ document: D; told: readonly TextProblem[] }, TextProblem[]>;
}

/**
 * A text and a document that follow each other. The text knows the document that it stands for: what somebody typed is the
 * difference from there, so that changes made on the document while the text could not be read are not lost.
 */
export class TextSync<D extends object> {
  problems: readonly TextProblem[] = [];
  /** What the text left out and was filled in: it is written into the text with the next change of the document. */
  filled: readonly TextProblem[] = [];
  private waits = false;

  constructor(
    private readonly form: TextForm<D>,
    public text: string,
    private document: D,
  ) {}

  /** Takes a text as it was typed; gives what it changes of the document, nothing while it cannot be read. */
  typed(text: string): Edit[] {
    this.text = text;
    this.waits = false;
    const read = this.form.read(text);
    this.problems = read.ok ? [] : read.error;
    this.filled = read.ok ? read.value.told : [];
    if (!read.ok) return [];
    const { document } = read.value;
    const edits = editsBetween(this.document, document);
    this.document = document;
    return edits;
  }

  /** What was typed last was not taken: the text says more than the document, which is as given. */
  refused(document: D): void {
    this.document = document;
    this.waits = true;
  }

  /** The text after the document changed; null where it stays, because it says so already or cannot be read just now. */
  changed(document: D): string | null {
    if (this.waits || this.problems.length || (!this.filled.length && sameValue(this.document, document))) return null;
    const text = updateYaml(this.text, document);
    if (text === null) return null;
    this.document = document;
    this.filled = [];
    this.text = text;
    return text;
  }
}
