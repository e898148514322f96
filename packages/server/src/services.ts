import type { DataSource } from 'typeorm';
import type { BlobStore, FrameStore } from '@wraithos/runtime';
import type { Events } from './http/events';
import type { Jobs } from './jobs/jobs';
import type { RenderPool } from './jobs/renderPool';

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
  frames: FrameStore;
  blobs: BlobStore;
  events: Events;
  folders: Folders;
  jobs: Jobs;
  pool: RenderPool;
  log(error: unknown): void;
}
