import { type Edit, editsBetween, sameValue } from '@sobrin/core/changes';
import { type TextProblem, readYaml, updateYaml } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';

/**
 * A text and a drawing that follow each other. The text knows the drawing that it stands for (`told`): what somebody typed is
 * the difference from there, so that changes made on the drawing while the text could not be read are not lost.
 */
export class TextSync {
  problems: readonly TextProblem[] = [];
  /** What the text left out and was filled in: it is written into the text with the next change of the drawing. */
  filled: readonly TextProblem[] = [];
  private waits = false;

  constructor(
    public text: string,
    private drawing: Topology,
  ) {}

  /** Takes a text as it was typed; gives what it changes of the drawing, nothing while it cannot be read. */
  typed(text: string): Edit[] {
    this.text = text;
    this.waits = false;
    const read = readYaml(text);
    this.problems = read.ok ? [] : read.error;
    this.filled = read.ok ? read.value.told : [];
    if (!read.ok) return [];
    const { topology } = read.value;
    const edits = editsBetween(this.drawing, topology);
    this.drawing = topology;
    return edits;
  }

  /** What was typed last was not taken: the text says more than the drawing, which is as given. */
  refused(topology: Topology): void {
    this.drawing = topology;
    this.waits = true;
  }

  /** The text after the drawing changed; null where it stays, because it says so already or cannot be read just now. */
  drawn(topology: Topology): string | null {
    if (this.waits || this.problems.length || (!this.filled.length && sameValue(this.drawing, topology))) return null;
    const text = updateYaml(this.text, topology);
    if (text === null) return null;
    this.drawing = topology;
    this.filled = [];
    this.text = text;
    return text;
  }
}
