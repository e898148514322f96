import { DataSource } from 'typeorm';
import type { Daemon } from './daemon';
import { Job, Medium, Production, RecipeEntity, Revision, ShotEntity, StockEntity } from './entities';
import { migrations } from './migrations';

/** Connects and brings the tables up to date. */
export async function connect(daemon: Daemon): Promise<DataSource> {
  const source = new DataSource({
    type: 'mariadb',
    socketPath: daemon.socket,
    username: daemon.user,
    password: daemon.password,
    database: daemon.database,
    entities: [Production, ShotEntity, Revision, Medium, Job, RecipeEntity, StockEntity],
    migrations,
    synchronize: false,
    charset: 'utf8mb4',
    timezone: 'Z',
    poolSize: 8,
  });
  await source.initialize();
  await source.runMigrations();
  return source;
}
