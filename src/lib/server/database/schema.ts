import {
  boolean,
  customType,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { Drawing } from '../../../core/boxes/drawing.ts';
import type { Reference } from '../../../core/css/references.ts';
import type { Edit } from '../../../core/trials/edit.ts';

const bytea = customType<{ data: Uint8Array }>({ dataType: () => 'bytea' });
const at = (name: string) => timestamp(name, { withTimezone: true }).notNull().defaultNow();

export const specimens = pgTable('specimens', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  /** `hold`: the page's own scripts do not run; `run`: they do. */
  scripts: text('scripts', { enum: ['hold', 'run'] })
    .notNull()
    .default('hold'),
  demo: boolean('demo').notNull().default(false),
  drawing: jsonb('drawing').$type<Drawing>(),
  measuredAt: timestamp('measured_at', { withTimezone: true }),
  createdAt: at('created_at'),
  deletedAt: timestamp('deleted_at', { withTimezone: true }),
});

/** One state of a specimen's files. `key` is the unguessable name under which they are served. */
export const revisions = pgTable(
  'revisions',
  {
    id: text('id').primaryKey(),
    specimenId: text('specimen_id')
      .notNull()
      .references(() => specimens.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    key: text('key').notNull().unique(),
    entry: text('entry').notNull(),
    pages: jsonb('pages').$type<string[]>().notNull(),
    missing: jsonb('missing').$type<Reference[]>().notNull(),
    createdAt: at('created_at'),
  },
  (table) => [index('revisions_specimen').on(table.specimenId)],
);

/** Contents by SHA-256, each stored once however many revisions hold it. */
export const blobs = pgTable('blobs', { hash: text('hash').primaryKey(), bytes: bytea('bytes').notNull() });

export const files = pgTable(
  'files',
  {
    revisionId: text('revision_id')
      .notNull()
      .references(() => revisions.id, { onDelete: 'cascade' }),
    path: text('path').notNull(),
    type: text('type').notNull(),
    size: integer('size').notNull(),
    hash: text('hash')
      .notNull()
      .references(() => blobs.hash),
  },
  (table) => [primaryKey({ columns: [table.revisionId, table.path] })],
);

/** A saved reading: what lists and charts need in columns, the whole of it compressed in `body`. */
export const readings = pgTable(
  'readings',
  {
    id: text('id').primaryKey(),
    specimenId: text('specimen_id')
      .notNull()
      .references(() => specimens.id, { onDelete: 'cascade' }),
    revisionId: text('revision_id')
      .notNull()
      .references(() => revisions.id, { onDelete: 'cascade' }),
    page: text('page').notNull(),
    engine: text('engine').notNull(),
    engineVersion: text('engine_version').notNull(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    scrollWidth: integer('scroll_width').notNull(),
    scrollHeight: integer('scroll_height').notNull(),
    defaults: text('defaults').notNull(),
    boxes: integer('boxes').notNull(),
    note: text('note').notNull(),
    /** Selector of the box that was picked, empty for none. */
    pick: text('pick').notNull(),
    takenAt: at('taken_at'),
    body: bytea('body').notNull(),
  },
  (table) => [index('readings_specimen').on(table.specimenId)],
);

/** An ordered list of edits laid over a specimen's files. */
export const trials = pgTable(
  'trials',
  {
    id: text('id').primaryKey(),
    specimenId: text('specimen_id')
      .notNull()
      .references(() => specimens.id, { onDelete: 'cascade' }),
    page: text('page').notNull(),
    name: text('name').notNull(),
    edits: jsonb('edits').$type<Edit[]>().notNull(),
    createdAt: at('created_at'),
    changedAt: at('changed_at'),
  },
  (table) => [index('trials_specimen').on(table.specimenId)],
);

/** Findings that the user said are meant, by what they are known again by in any revision. */
export const meants = pgTable(
  'meants',
  {
    id: text('id').primaryKey(),
    specimenId: text('specimen_id')
      .notNull()
      .references(() => specimens.id, { onDelete: 'cascade' }),
    page: text('page').notNull(),
    key: text('key').notNull(),
    reason: text('reason').notNull(),
    createdAt: at('created_at'),
  },
  (table) => [uniqueIndex('meants_of').on(table.specimenId, table.page, table.key)],
);

/** What the installation remembers of itself, by name. */
export const facts = pgTable('facts', { name: text('name').primaryKey(), value: text('value').notNull() });
