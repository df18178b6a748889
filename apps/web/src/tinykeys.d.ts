/** The package names its types in a way that its own list of entry points hides. */
declare module 'tinykeys' {
  export function createKeybindingsHandler(
    bindings: Readonly<Record<string, (event: KeyboardEvent) => void>>,
  ): (event: Event) => void;
}
