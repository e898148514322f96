// npm start: installs what is missing, builds, and serves until Ctrl-C.
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { installDebian, installModules, root } from './setup.mjs';

const port = Number(process.env.PORT ?? 4600);
try {
  // A taken port is told before anything is installed or built.
  await new Promise((resolve, reject) => {
    const probe = createServer()
      .once('error', (error) =>
        reject(
          error.code === 'EADDRINUSE'
            ? new Error(`Port ${port} is taken by another program; stop it or choose another one with PORT=4601 npm start.`)
            : error,
        ),
      )
      .listen(port, '127.0.0.1', () => probe.close(resolve));
  });
  installDebian(['mariadb-server', 'ffmpeg']);
  installModules();
  await import('./build.mjs');
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
/** Exit code of a server that met something nobody foresaw and closed cleanly. */
const BROKE = 70;
/** Ends in this time, milliseconds, that are too many to go on; each start waits longer than the last. */
const WINDOW = 120_000,
  MOST = 6;
const ends = [];
let server = null,
  asked = false;
// The terminal sends Ctrl-C to the server as well; this process only waits for it to end cleanly.
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    asked = true;
    server?.kill(signal);
  });
function serve() {
  server = spawn(process.execPath, ['--max-semi-space-size=64', join(root, 'dist', 'server', 'main.mjs')], { cwd: root, stdio: 'inherit' });
  server.on('exit', (code, signal) => {
    const now = Date.now();
    ends.push(now);
    while (ends[0] < now - WINDOW) ends.shift();
    // A server that refuses to start says why itself; one that broke, or was killed, is brought up again.
    if (asked || (code !== BROKE && signal === null)) process.exit(code ?? 0);
    if (ends.length > MOST) {
      console.error(
        `The server ended ${ends.length} times within two minutes; it is not started again. LOG_LEVEL=info npm start shows more.`,
      );
      process.exit(BROKE);
    }
    console.error(`The server ended by itself (${signal ?? code}) and is started again.`);
    setTimeout(() => (asked ? process.exit(0) : serve()), 250 * 2 ** (ends.length - 1));
  });
}
serve();
