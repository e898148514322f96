import { createServer, request, type Server } from 'node:http';
import { Application } from './application';
import { openBrowser, settled, until } from './browser';

/** The application as seen through something that drops the headers by which a page may share memory with its workers. */
function withoutIsolation(app: Application): Promise<{ base: string; server: Server }> {
  const server = createServer((from, to) => {
    const { host } = new URL(app.base),
      given = { ...from.headers, host, ...(from.headers.origin ? { origin: app.base } : {}) },
      on = request(`${app.base}${from.url ?? '/'}`, { method: from.method, headers: given }, (answer) => {
        const headers = { ...answer.headers };
        delete headers['cross-origin-opener-policy'];
        delete headers['cross-origin-embedder-policy'];
        to.writeHead(answer.statusCode ?? 500, headers);
        answer.pipe(to);
      });
    on.on('error', () => to.destroy());
    from.pipe(on);
  });
  return new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve({ base: `http://127.0.0.1:${(server.address() as { port: number }).port}`, server })),
  );
}

test('a page that may not share memory draws the same picture on one thread, and says so', async () => {
  const app = await Application.start(),
    { base, server } = await withoutIsolation(app),
    { browser, close } = await openBrowser();
  try {
    const shots = await until(
        'the demo',
        async () => {
          const list = await app.get<{ id: string; rows: number }[]>('/shots');
          return list.length >= 4 ? list : null;
        },
        300_000,
      ),
      id = shots.find((s) => s.rows > 0)!.id,
      digest = async (address: string) => {
        const page = await browser.newPage();
        await page.goto(`${address}/shots/${id}/effects`);
        await page.waitForSelector('canvas.picture');
        await settled(page);
        const status = await page.$eval('.viewer .status', (el) => el.textContent ?? ''),
          isolated = await page.evaluate(() => crossOriginIsolated),
          found = await page.evaluate(async (shot) => {
            const { document } = (await (await fetch(`/api/shots/${shot}`)).json()) as { document: object };
            return (window as unknown as { wraithosCodes(d: object, f: number): Promise<{ sha256: string }> }).wraithosCodes(
              document,
              1062,
            );
          }, id);
        await page.close();
        return { status, isolated, sha256: found.sha256 };
      };
    const one = await digest(base),
      all = await digest(app.base);
    expect([one.isolated, all.isolated]).toEqual([false, true]);
    expect(one.status).toContain('one thread');
    expect(all.status).not.toContain('one thread');
    expect(one.sha256).toBe(all.sha256);
  } finally {
    await close();
    server.close();
    await app.close();
  }
}, 480_000);
