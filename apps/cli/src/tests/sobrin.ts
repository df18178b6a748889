import { run } from '../main';

/** Runs the command line as from a shell: what it prints, and its exit status. */
export async function sobrin(...args: string[]): Promise<{ status: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const status = await run(
    ['node', 'sobrin', ...args],
    { write: (text) => (out += text) },
    { write: (text) => (err += text) },
  );
  return { status, out, err };
}
