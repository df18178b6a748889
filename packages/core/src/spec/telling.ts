import { capital } from './rule';

const [BEGIN, END] = ['\uE000', '\uE001'];
const MARK = new RegExp(`${BEGIN}(\\d+)${END}`, 'g');

interface Choice {
  readonly full: string;
  readonly theirs: string;
  readonly value: string | undefined;
}

/**
 * Writes texts that two read differently: those who teach read everything, students neither names of the reference nor
 * values that their sentence does not hold. A text in the making has marks for the pieces that differ.
 */
export class Telling {
  private readonly choices: Choice[] = [];

  /**
   * A mark for a piece that those who teach read as `full`, and students as `theirs`; where a `value` is given that the
   * sentence of the requirement holds, students read `full`, too.
   */
  mark(full: string, theirs: string, value?: string | number): string {
    if (full === theirs) return full;
    return `${BEGIN}${this.choices.push({ full, theirs, value: value?.toString() }) - 1}${END}`;
  }

  /** A text as those who teach read it. */
  full(text: string): string {
    return this.read(text, ({ full }) => full);
  }

  /** A text as students read it who see `sentence` above it. */
  theirs(text: string, sentence = ''): string {
    return capital(
      this.read(text, ({ full, theirs, value }) => (value !== undefined && holds(sentence, value) ? full : theirs)),
    );
  }

  private read(text: string, choose: (choice: Choice) => string): string {
    if (!text.includes(BEGIN)) return text;
    return text.replace(MARK, (mark, at: string) => {
      const choice = this.choices[Number(at)];
      return choice ? this.read(choose(choice), choose) : mark;
    });
  }
}

/** Whether a text holds a value as a word of its own: 4 is not in 24, and 10.0.0.1 not in 10.0.0.12. */
function holds(text: string, value: string): boolean {
  if (!text.includes(value)) return false;
  const escaped = value.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  return new RegExp(`(?<![\\p{L}\\p{N}.:/])${escaped}(?![\\p{L}\\p{N}/:]|\\.\\p{N})`, 'u').test(text);
}
