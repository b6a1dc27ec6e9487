import {
  bigint,
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
import type { Drawing } from '../../../core/reports/drawing.ts';
import type { Reference } from '../../../core/css/syntax/references.ts';
import type { Edit } from '../../../core/trials/edit.ts';

const bytea = customType<{ data: Uint8Array }>({ dataType: () => 'bytea' });
/** Counts the changes of a row: who changes it names the one that they have seen. */
const version = () => integer('version').notNull().default(1);
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
  version: version(),
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
  (table) => [uniqueIndex('revisions_number').on(table.specimenId, table.number)],
);

/**
 * Contents of files by SHA-256, each kept once however many revisions hold it, where the database is a server's. The embedded
 * one has them in a folder beside it, so no constraint ties `files` to them.
 */
export const contentPieces = pgTable(
  'content_pieces',
  {
    hash: text('hash').notNull(),
    number: integer('number').notNull(),
    bytes: bytea('bytes').notNull(),
    /** When they were last brought in: what nobody holds is removed a day later. */
    addedAt: at('added_at'),
  },
  (table) => [primaryKey({ columns: [table.hash, table.number] })],
);

/**
 * Specimens as they are looked at under a trial or under other defaults: a revision's files with other texts, under a key
 * of their own. The texts are in the content store.
 */
export const overlays = pgTable('overlays', {
  key: text('key').primaryKey(),
  /** Key of the revision whose files they are; '': of none, there are but empty documents. */
  revisionKey: text('revision_key').notNull(),
  /** Hashes of texts in the place of the revision's own, by path. */
  texts: jsonb('texts').$type<Record<string, string>>().notNull(),
  /** Hash of the style sheets of other defaults, as JSON; null: none lie under it. */
  underlay: text('underlay'),
  /** Bytes of all its texts together. */
  size: bigint('size', { mode: 'number' }).notNull(),
  usedAt: at('used_at'),
});

export const files = pgTable(
  'files',
  {
    revisionId: text('revision_id')
      .notNull()
      .references(() => revisions.id, { onDelete: 'cascade' }),
    path: text('path').notNull(),
    type: text('type').notNull(),
    size: integer('size').notNull(),
    /** Of its contents: SHA-256 in hex. */
    hash: text('hash').notNull(),
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
    version: version(),
  },
  (table) => [index('trials_specimen').on(table.specimenId)],
);

/** Findings that the user said are meant, by what they are known again by in any revision. */
export const grades = pgTable(
  // As it was called when all that a user could say was that a finding is meant.
  'meants',
  {
    id: text('id').primaryKey(),
    specimenId: text('specimen_id')
      .notNull()
      .references(() => specimens.id, { onDelete: 'cascade' }),
    /** '': all pages. */
    page: text('page').notNull(),
    key: text('key').notNull(),
    grade: text('grade', { enum: ['wrong', 'doubtful', 'meant'] })
      .notNull()
      .default('meant'),
    /** A rule or a kind, a selector, and a declaration; what is '' is not asked for. Rows of older versions have all of it in their keys alone. */
    rule: text('rule').notNull().default(''),
    place: text('place').notNull().default(''),
    declaration: text('declaration').notNull().default(''),
    reason: text('reason').notNull(),
    createdAt: at('created_at'),
    version: version(),
  },
  (table) => [uniqueIndex('meants_of').on(table.specimenId, table.page, table.key)],
);

/** How the page of an address is taken, and what could not be taken of it, in sentences. */
export interface OriginOptions {
  width?: number;
  height?: number;
  steps?: string[];
  /** Further hosts that may be reached wherever they lie, as addresses. */
  also?: string[];
  left?: string[];
}

/** Where the files of a specimen are taken from again and again; none: they were brought in once. No part of a backup. */
export const origins = pgTable('origins', {
  specimenId: text('specimen_id')
    .primaryKey()
    .references(() => specimens.id, { onDelete: 'cascade' }),
  kind: text('kind', { enum: ['folder', 'address'] }).notNull(),
  /** Its real path on the machine of the server, or the address of the page. */
  place: text('place').notNull(),
  options: jsonb('options').$type<OriginOptions>().notNull().default({}),
});

/** A file that was written: the SHA-256 of what stood there before and of what was put in its place. */
export interface WrittenFile {
  path: string;
  before: string;
  after: string;
}

/** What was written into the files of a folder, so that it can be taken back. No part of a backup. */
export const writes = pgTable(
  'writes',
  {
    id: text('id').primaryKey(),
    specimenId: text('specimen_id')
      .notNull()
      .references(() => specimens.id, { onDelete: 'cascade' }),
    files: jsonb('files').$type<WrittenFile[]>().notNull(),
    writtenAt: at('written_at'),
    takenBackAt: timestamp('taken_back_at', { withTimezone: true }),
  },
  (table) => [index('writes_specimen').on(table.specimenId)],
);

/** What the installation remembers of itself, by name. */
export const facts = pgTable('facts', { name: text('name').primaryKey(), value: text('value').notNull() });
