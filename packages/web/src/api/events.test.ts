import { jest } from '@jest/globals';
import type { JobSummary } from '@wraithos/contract';

class Silent {
  static CLOSED = 2;
  readyState = 1;
  close(): void {
    this.readyState = 2;
  }
}
(globalThis as { EventSource?: unknown }).EventSource = Silent;
const { followJob } = await import('./events');

test('an answer that comes after the job is over is not told any more', async () => {
  jest.useFakeTimers();
  const job = (state: string) => ({ id: 'j', state, done: 1, total: 1, message: '' }) as unknown as JobSummary,
    answers: ((job: JobSummary) => void)[] = [],
    told: string[] = [],
    over = followJob(
      'j',
      () => new Promise((resolve) => answers.push(resolve)),
      (now) => told.push(now.state),
    );
  // A second look begins before the first is answered.
  jest.advanceTimersByTime(2100);
  expect(answers).toHaveLength(2);
  answers[0]!(job('done'));
  expect((await over).state).toBe('done');
  answers[1]!(job('done'));
  await Promise.resolve();
  await Promise.resolve();
  expect(told).toEqual(['done']);
  jest.useRealTimers();
});
