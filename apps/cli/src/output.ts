/** Exit status of every command: all well, something fell short, or the input cannot be used. */
export const STATUS = { well: 0, short: 1, unusable: 2 } as const;

export interface Output {
  write(text: string): unknown;
}
