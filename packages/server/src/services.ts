import type { DataSource } from 'typeorm';
import type { BlobStore, FrameStore } from '@wraithos/runtime';
import type { Daemon } from './database/daemon';
import type { Patience } from './database/patience';
import type { Disk } from './folder/disk';
import type { Events } from './http/events';
import type { Jobs } from './jobs/jobs';
import type { WorkProcesses } from './jobs/workProcess';
import type { ShotStore } from './shots';
import type { Stockroom } from './stockroom';

/** Folders of one installation. */
export interface Folders {
  root: string;
  uploads: string;
  frames: string;
  blobs: string;
  renders: string;
  thumbnails: string;
}
/** What routes and jobs work with. */
export interface Services {
  database: DataSource;
  daemon: Daemon;
  patience: Patience;
  disk: Disk;
  frames: FrameStore;
  blobs: BlobStore;
  shots: ShotStore;
  stockroom: Stockroom;
  events: Events;
  folders: Folders;
  jobs: Jobs;
  /** Processes that draw frames of renders, read media, and draw thumbnails: none of them can hold up another. */
  drawing: WorkProcesses;
  reading: WorkProcesses;
  sketching: WorkProcesses;
  log(error: unknown): void;
}
