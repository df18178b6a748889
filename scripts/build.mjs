// npm run build: builds what is stale, without starting anything.
import { explain, say } from './lib/say.mjs';
import { ensureDependencies } from './lib/system.mjs';

try {
  await ensureDependencies();
  const { buildAll } = await import('./lib/build.mjs');
  await buildAll(say);
  say('Everything is built.');
} catch (error) {
  console.error(explain(error));
  process.exit(1);
}
