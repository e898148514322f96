import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';

/** Stories on one page, each a test of its own with shots of its own. Where one fails, its page is kept as a picture in dist/tests. */
export function journey(
  page: () => Page,
  waitingFor: () => string[],
): (name: string, work: () => Promise<void>, milliseconds: number) => void {
  return (name, work, milliseconds) =>
    test(
      name,
      async () => {
        const begun = Date.now();
        let timer: ReturnType<typeof setTimeout> | undefined;
        const late = new Promise<never>((_, reject) => {
          timer = setTimeout(() => reject(new Error(`took longer than ${milliseconds / 1000} s`)), milliseconds);
        });
        try {
          await Promise.race([work(), late]);
        } catch (error) {
          process.stderr.write(`FAILED ${name}: ${(error as Error).stack ?? String(error)}\n`);
          process.stderr.write(`open requests: ${waitingFor().join(', ') || 'none'}\n`);
          await mkdir(join('dist', 'tests'), { recursive: true });
          await page()
            .screenshot({ path: join('dist', 'tests', 'failed-step.png') })
            .catch(() => undefined);
          throw error;
        } finally {
          clearTimeout(timer);
        }
        process.stderr.write(`step: ${name}, ${((Date.now() - begun) / 1000).toFixed(1)} s\n`);
      },
      milliseconds + 10_000,
    );
}
