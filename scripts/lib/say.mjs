// What the scripts tell people: steps while they work, and one clear sentence when something does not go.
import { spawn } from 'node:child_process';

const begin = Date.now();

export function say(text) {
  console.log(`[${String(Math.round((Date.now() - begin) / 1000)).padStart(3)} s] ${text}`);
}

/** Commands that are running: they end with this script. */
const running = new Set();
export function endCommands() {
  for (const child of running) child.kill('SIGTERM');
}

const STILL_MS = 20_000;

/** Runs a command to its end and says every now and then that it is still at it. Gives status and output. */
export function runWithProgress(what, file, args, options = {}) {
  return new Promise((resolve) => {
    const child = spawn(file, args, { ...options, stdio: ['ignore', 'pipe', 'pipe'] });
    running.add(child);
    const still = setInterval(() => say(`… still ${what}`), STILL_MS);
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (output += chunk));
    const end = (status, error) => {
      clearInterval(still);
      running.delete(child);
      resolve({ status, output, error });
    };
    child.on('error', (error) => end(null, error));
    child.on('close', (status) => end(status, null));
  });
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
