import type { MigrationInterface, QueryRunner } from 'typeorm';

/*
 * MariaDB ends a transaction at every change of a table, so a migration that is cut off leaves half of it done. Every statement here may
 * therefore be run again: `IF NOT EXISTS` throughout.
 */

/** Tables of the first version. */
export class FirstLight1763900000000 implements MigrationInterface {
  name = 'FirstLight1763900000000';
  async up(q: QueryRunner): Promise<void> {
    await q.query(
      'CREATE TABLE IF NOT EXISTS productions (id CHAR(36) PRIMARY KEY, name VARCHAR(120) NOT NULL, created DATETIME(3) NOT NULL)',
    );
    await q.query(`CREATE TABLE IF NOT EXISTS shots (id CHAR(36) PRIMARY KEY, production_id CHAR(36) NOT NULL, code VARCHAR(120) NOT NULL, title VARCHAR(200) NOT NULL, revision INT NOT NULL, document LONGTEXT NOT NULL, deleted DATETIME(3) NULL, created DATETIME(3) NOT NULL, updated DATETIME(3) NOT NULL,
      CONSTRAINT fk_shots_production FOREIGN KEY (production_id) REFERENCES productions (id))`);
    await q.query(`CREATE TABLE IF NOT EXISTS revisions (id INT AUTO_INCREMENT PRIMARY KEY, shot_id CHAR(36) NOT NULL, revision INT NOT NULL, name VARCHAR(120) NOT NULL, kind VARCHAR(8) NOT NULL, patches LONGTEXT NOT NULL, inverse LONGTEXT NOT NULL, snapshot LONGTEXT NULL, created DATETIME(3) NOT NULL,
      UNIQUE KEY uq_revisions (shot_id, revision), CONSTRAINT fk_revisions_shot FOREIGN KEY (shot_id) REFERENCES shots (id))`);
    await q.query(
      'CREATE TABLE IF NOT EXISTS media (hash CHAR(64) PRIMARY KEY, name VARCHAR(255) NOT NULL, info LONGTEXT NOT NULL, created DATETIME(3) NOT NULL)',
    );
    await q.query(
      'CREATE TABLE IF NOT EXISTS jobs (id CHAR(36) PRIMARY KEY, kind VARCHAR(20) NOT NULL, state VARCHAR(12) NOT NULL, title VARCHAR(300) NOT NULL, shot_id CHAR(36) NULL, input LONGTEXT NOT NULL, done INT NOT NULL, total INT NOT NULL, message VARCHAR(1000) NOT NULL, result LONGTEXT NULL, created DATETIME(3) NOT NULL, updated DATETIME(3) NOT NULL, KEY ix_jobs_state (state), CONSTRAINT fk_jobs_shot FOREIGN KEY (shot_id) REFERENCES shots (id))',
    );
  }
  async down(q: QueryRunner): Promise<void> {
    for (const table of ['jobs', 'media', 'revisions', 'shots', 'productions']) await q.query(`DROP TABLE IF EXISTS ${table}`);
  }
}

/** Saved effects. */
export class Recipes1764100000000 implements MigrationInterface {
  name = 'Recipes1764100000000';
  async up(q: QueryRunner): Promise<void> {
    await q.query(
      'CREATE TABLE IF NOT EXISTS recipes (id CHAR(36) PRIMARY KEY, name VARCHAR(120) NOT NULL, recipe LONGTEXT NOT NULL, created DATETIME(3) NOT NULL)',
    );
  }
  async down(q: QueryRunner): Promise<void> {
    await q.query('DROP TABLE IF EXISTS recipes');
  }
}

/** Bounds of jobs, a bin for what was deleted, and summaries of shots, so that lists need not read documents. */
export class Bounds1764600000000 implements MigrationInterface {
  name = 'Bounds1764600000000';
  async up(q: QueryRunner): Promise<void> {
    await q.query(
      'ALTER TABLE jobs ADD COLUMN IF NOT EXISTS attempts INT NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS interrupted INT NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS deleted DATETIME(3) NULL, ADD KEY IF NOT EXISTS ix_jobs_created (created)',
    );
    await q.query(
      'ALTER TABLE media ADD COLUMN IF NOT EXISTS deleted DATETIME(3) NULL, ADD COLUMN IF NOT EXISTS told TINYINT NOT NULL DEFAULT 0',
    );
    await q.query(
      'ALTER TABLE shots ADD COLUMN IF NOT EXISTS facts LONGTEXT NULL, ADD COLUMN IF NOT EXISTS document_revision INT NOT NULL DEFAULT 0',
    );
  }
  async down(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE jobs DROP COLUMN attempts, DROP COLUMN interrupted, DROP COLUMN deleted');
    await q.query('ALTER TABLE media DROP COLUMN deleted, DROP COLUMN told');
    await q.query('ALTER TABLE shots DROP COLUMN facts, DROP COLUMN document_revision');
  }
}

/** Elements of one's own. */
export class Stock1764700000000 implements MigrationInterface {
  name = 'Stock1764700000000';
  async up(q: QueryRunner): Promise<void> {
    await q.query(
      'CREATE TABLE IF NOT EXISTS stock (id CHAR(36) PRIMARY KEY, name VARCHAR(120) NOT NULL, hash CHAR(64) NOT NULL, loops TINYINT NOT NULL DEFAULT 0, light TINYINT NOT NULL DEFAULT 0, created DATETIME(3) NOT NULL)',
    );
  }
  async down(q: QueryRunner): Promise<void> {
    await q.query('DROP TABLE IF EXISTS stock');
  }
}

/** All migrations in order. */
export const migrations = [FirstLight1763900000000, Recipes1764100000000, Bounds1764600000000, Stock1764700000000];
