/** How a thing that is pointed at fared: everything met, something lost, or not to be said for certain. */
export type Mark = 'met' | 'lost' | 'unsure';

/** Things that are pointed at, by id; ports by `portMarkKey`. */
export interface Marks {
  readonly devices: ReadonlyMap<string, Mark>;
  readonly links: ReadonlyMap<string, Mark>;
  readonly ports?: ReadonlyMap<string, Mark>;
  readonly sites?: ReadonlyMap<string, Mark>;
  /** What stands at marked devices in place of a sign, such as the numbers of steps. */
  readonly words?: ReadonlyMap<string, string>;
  /** Why devices are marked, for those who hear it. */
  readonly reasons?: ReadonlyMap<string, string>;
  /** The one of them where one stands. */
  readonly here?: string | undefined;
}

export const portMarkKey = (device: string, port: string): string => `${device} ${port}`;
