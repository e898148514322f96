import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';

/**
 * Steps of one journey, each a test that builds on those before it. When one fails, its page is kept as a picture in dist/tests and
 * the later ones fail at once, naming it, in place of waiting for what cannot come.
 */
export function journey(
  page: () => Page,
  waitingFor: () => string[],
): (name: string, work: () => Promise<void>, milliseconds: number) => void {
  let broken: string | null = null;
  return (name, work, milliseconds) =>
    test(
      name,
      async () => {
        if (broken) throw new Error(`an earlier step failed: ${broken}`);
        const begun = Date.now();
        try {
          let timer: ReturnType<typeof setTimeout> | undefined;
          const late = new Promise<never>((_, reject) => {
            timer = setTimeout(() => reject(new Error(`took longer than ${milliseconds / 1000} s`)), milliseconds);
          });
          await Promise.race([work(), late]).finally(() => clearTimeout(timer));
        } catch (error) {
          broken = name;
          process.stderr.write(`FAILED ${name}: ${(error as Error).stack ?? String(error)}\n`);
          process.stderr.write(`open requests: ${waitingFor().join(', ') || 'none'}\n`);
          await mkdir(join('dist', 'tests'), { recursive: true });
          await page()
            .screenshot({ path: join('dist', 'tests', 'failed-step.png') })
            .catch(() => undefined);
          throw error;
        }
        process.stderr.write(`step: ${name}, ${((Date.now() - begun) / 1000).toFixed(1)} s\n`);
      },
      milliseconds + 10_000,
    );
}
