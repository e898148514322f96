import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pino from 'pino';
import { open } from './open';

const root = join(fileURLToPath(import.meta.url), '..', '..', '..'),
  log = pino({ level: process.env.LOG_LEVEL ?? 'warn' });
const port = Number(process.env.PORT ?? 4600);
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`PORT must be a number from 0 to 65535, not "${process.env.PORT}".`);
  process.exit(1);
}

let closing: Promise<void> | null = null;
try {
  const opened = await open({
    root: process.env.WRAITHOS_DATA ?? join(root, '.data'),
    port,
    webFolder: join(root, 'dist', 'web'),
    workerFile: join(root, 'dist', 'server', 'renderWorker.mjs'),
    demoFolder: join(root, 'packages', 'demo', 'media'),
    log: (error) => log.error(error),
    say: (line) => console.log(line),
  });
  const end = () => {
    closing ??= opened.close().then(
      () => process.exit(0),
      () => process.exit(1),
    );
  };
  process.on('SIGINT', end);
  process.on('SIGTERM', end);
  console.log(`Wraithos is at http://127.0.0.1:${opened.port}`);
} catch (error) {
  console.error((error as Error).message);
  process.exit(1);
}
