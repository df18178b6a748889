// What the scripts tell people: steps while they work, and one clear sentence when something does not go.
const begin = Date.now();

export function say(text) {
  console.log(`[${String(Math.round((Date.now() - begin) / 1000)).padStart(3)} s] ${text}`);
}

/** Trouble that a person can do something about: shown as a sentence, without a stack. */
export class Trouble extends Error {}

export function explain(error) {
  if (error instanceof Trouble) return error.message;
  if (error?.code === 'ENOSPC') return 'The disk is full. Free some space, then start again.';
  if (error?.code === 'EACCES' || error?.code === 'EPERM')
    return `This user may not write ${error.path ?? 'here'}. Choose another place with SOBRIN_DATA, or use another user.`;
  return error?.stack ?? String(error);
}
