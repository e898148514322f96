// npm run dev: the server as built, and pages with hot reload on port 4600.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { installDebian, installModules, root } from './setup.mjs';

installDebian(['mariadb-server', 'ffmpeg']);
installModules();
await import('./build.mjs');
const server = spawn(process.execPath, ['--max-semi-space-size=64', join(root, 'dist', 'server', 'main.mjs')], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, PORT: '4601' },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
const { createServer } = await import('vite');
const pages = await createServer({
  root: join(root, 'packages/web'),
  configFile: join(root, 'packages/web/vite.config.ts'),
  server: { port: Number(process.env.PORT ?? 4600), strictPort: true },
});
await pages.listen();
pages.printUrls();
