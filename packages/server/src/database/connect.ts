import { DataSource } from 'typeorm';
import type { Database } from './daemon';
import { Job, Medium, Production, RecipeEntity, Revision, ShotEntity } from './entities';
import { FirstLight1763900000000, Recipes1764100000000 } from './migrations';

/** Connects and brings the tables up to date. */
export async function connect(database: Database): Promise<DataSource> {
  const source = new DataSource({
    type: 'mariadb',
    socketPath: database.socket,
    username: database.user,
    database: database.database,
    entities: [Production, ShotEntity, Revision, Medium, Job, RecipeEntity],
    migrations: [FirstLight1763900000000, Recipes1764100000000],
    synchronize: false,
    charset: 'utf8mb4',
    timezone: 'Z',
  });
  await source.initialize();
  await source.runMigrations();
  return source;
}
