import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pino from 'pino';
import { open, type Opened } from './open';

/** Exit codes: the start script starts the server again after `broke`, and not after `refused`. */
const REFUSED = 1,
  BROKE = 70;
/** The end takes no longer than this, milliseconds; what is not done by then is taken up at the next start. */
const LONGEST_END_MS = 9000;

const root = join(fileURLToPath(import.meta.url), '..', '..', '..'),
  log = pino({ level: process.env.LOG_LEVEL ?? 'warn' });
const port = Number(process.env.PORT ?? 4600);
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`PORT must be a number from 0 to 65535, not "${process.env.PORT}".`);
  process.exit(REFUSED);
}

let opened: Opened | null = null,
  ending = false;
/** Ends everything cleanly, whoever asks for it, and then the process. */
function end(code: number): void {
  if (ending) return;
  ending = true;
  setTimeout(() => process.exit(code), LONGEST_END_MS).unref();
  void Promise.resolve(opened?.close()).then(
    () => process.exit(code),
    () => process.exit(code || BROKE),
  );
}
// Nothing that was forgotten ends the server without a word: it is logged, everything is closed, and the start script brings it up again.
for (const kind of ['uncaughtException', 'unhandledRejection'] as const)
  process.on(kind, (error: unknown) => {
    log.fatal(error, kind);
    end(BROKE);
  });
process.on('SIGINT', () => end(0));
process.on('SIGTERM', () => end(0));

try {
  opened = await open({
    root: process.env.WRAITHOS_DATA ?? join(root, '.data'),
    port,
    webFolder: join(root, 'dist', 'web'),
    workFile: join(root, 'dist', 'server', 'work.mjs'),
    demoFolder: process.env.WRAITHOS_DEMO === 'none' ? null : join(root, 'packages', 'demo', 'media'),
    stockFolder: join(root, 'packages', 'demo', 'media', 'stockroom'),
    log: (error) => log.error(error),
    say: (line) => console.log(line),
  });
  if (ending) await opened.close();
  else console.log(`Wraithos is at http://127.0.0.1:${opened.port}`);
} catch (error) {
  console.error((error as Error).message);
  process.exit(REFUSED);
}
