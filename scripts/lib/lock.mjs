// One Sobrin a data folder.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Trouble } from './say.mjs';

/** Takes a data folder for this process; gives back what frees it. The lock of one that was killed counts for nothing. */
export function lockFolder(home) {
  mkdirSync(home, { recursive: true, mode: 0o755 });
  const file = path.join(home, 'lock');
  for (;;) {
    try {
      writeFileSync(file, `${process.pid} ${beginOf(process.pid)}`, { flag: 'wx' });
      return () => rmSync(file, { force: true });
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
    }
    const [pid, begin] = readFileSync(file, 'utf8').split(' ');
    if (begin && beginOf(pid) === begin)
      throw new Trouble(
        `Sobrin runs with the data in ${home} already (process ${pid}). Stop that one first, or choose another place with SOBRIN_DATA.`,
      );
    rmSync(file, { force: true });
  }
}

/** When a process began, in the kernel's ticks: another one may get its number later. Empty where there is none. */
function beginOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/stat`, 'utf8')
      .replace(/^.*\) /s, '')
      .split(' ')[19];
  } catch {
    return '';
  }
}
