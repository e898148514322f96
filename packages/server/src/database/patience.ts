import type { Daemon } from './daemon';
import { isConnectionTrouble } from './trouble';

/** What waits for the database: jobs may wait as long as it takes, requests for a while. */
export class Patience {
  private over = false;
  constructor(private readonly daemon: Pick<Daemon, 'ready' | 'state'>) {}

  /** Nobody waits any longer: everything ends. */
  close(): void {
    this.over = true;
  }

  /**
   * Does work that may be done twice (a look-up, a change to a fixed value), and does it again when the line to the database broke.
   * @throws the last error where the database, or this, is closed.
   */
  async through<T>(work: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        return await work();
      } catch (error) {
        if (!isConnectionTrouble(error) || this.over || this.daemon.state === 'closed') throw error;
        // The line may break a moment before the end of the process is known.
        await new Promise((resolve) => setTimeout(resolve, 100));
        while (!this.over && (this.daemon.state as string) !== 'closed' && !(await this.daemon.ready(1000)));
      }
    }
  }
}
