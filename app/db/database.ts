/** The database: SQLite through Knex, migrated at start. */
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { config } from '~/base/config';
import * as first from './migrations/001-first';
import * as gathering from './migrations/002-gathering';
import * as motion from './migrations/003-motion';
import * as safety from './migrations/004-safety';
import * as analyses from './migrations/005-analyses';
import * as kept from './migrations/006-kept';
import * as subjects from './migrations/007-subjects';
import * as tints from './migrations/008-tints';
import * as patches from './migrations/009-patches';
import * as places from './migrations/010-places';

const migrations: Record<string, Knex.Migration> = {
  '001-first': first,
  '002-gathering': gathering,
  '003-motion': motion,
  '004-safety': safety,
  '005-analyses': analyses,
  '006-kept': kept,
  '007-subjects': subjects,
  '008-tints': tints,
  '009-patches': patches,
  '010-places': places,
};

export const db = knex({
  client: 'better-sqlite3',
  connection: { filename: join(config.data, 'glimbo.sqlite') },
  useNullAsDefault: true,
  pool: {
    min: 1,
    max: 1,
    afterCreate: (connection: { pragma(text: string): void }, done: (e: unknown, c: unknown) => void) => {
      connection.pragma('journal_mode = WAL');
      connection.pragma('foreign_keys = ON');
      connection.pragma('synchronous = FULL');
      done(null, connection);
    },
  },
  migrations: {
    migrationSource: {
      getMigrations: async () => Object.keys(migrations),
      getMigrationName: (name: string) => name,
      getMigration: async (name: string) => migrations[name]!,
    },
  },
});

export const migrate = () => db.migrate.latest();
