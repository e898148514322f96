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
const server = spawn(process.execPath, [join(root, 'dist', 'server', 'main.mjs')], { cwd: root, stdio: 'inherit' });
// The terminal sends Ctrl-C to the server as well; this process only waits for it to end cleanly.
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
