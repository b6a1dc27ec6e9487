/**
 * Edits: what a trial lays over a specimen. Each names what it changes by what stands there in the files, not by an
 * offset, so that it can be found again in a new revision; none depends on another, so any can be switched off alone.
 */
import { z } from 'zod';

const name = z.string().min(1).max(200);
const path = z.string().min(1).max(4000);
const text = z.string().max(100_000);

/** A style rule in a file: the nth of those with this selector list under these conditions, from 0. */
export const ruleTargetSchema = z.object({
  kind: z.literal('rule'),
  file: name,
  /** Style element of an HTML file, from 0; −1: the file is a style sheet. */
  style: z.number().int().min(-1),
  prelude: z.string().max(10_000),
  conditions: z.array(z.string().max(2000)).max(50),
  nth: z.number().int().min(0),
});

/** The style attribute of an element of a page. */
export const inlineTargetSchema = z.object({ kind: z.literal('inline'), file: name, path });

/** The end of a style sheet, or of a style element; a sheet of the trial's own where `file` is empty. */
export const sheetTargetSchema = z.object({
  kind: z.literal('sheet'),
  file: z.string().max(200),
  style: z.number().int().min(-1),
});

export const blockTargetSchema = z.discriminatedUnion('kind', [ruleTargetSchema, inlineTargetSchema]);

const declaration = z.object({
  property: name,
  value: z.string().max(10_000),
  important: z.boolean().default(false),
});
export type NewDeclaration = z.infer<typeof declaration>;

export const STATES = [
  'hover',
  'focus',
  'focus-visible',
  'focus-within',
  'active',
  'checked',
  'disabled',
  'target',
] as const;

export const changeSchema = z.discriminatedUnion('do', [
  /** Another value for the nth declaration of a property in a block, from 0. */
  z.object({
    do: z.literal('change'),
    at: blockTargetSchema,
    nth: z.number().int().min(0),
    /** What stands there, for whoever reads the trial and for new revisions. */
    was: z.string().max(10_000),
    ...declaration.shape,
  }),
  z.object({
    do: z.literal('mute'),
    at: blockTargetSchema,
    nth: z.number().int().min(0),
    was: z.string().max(10_000),
    property: name,
  }),
  z.object({ do: z.literal('add'), at: blockTargetSchema, ...declaration.shape }),
  z.object({
    do: z.literal('rule'),
    at: sheetTargetSchema,
    selector: z.string().min(1).max(10_000),
    declarations: z.array(declaration).max(200),
  }),
  z.object({ do: z.literal('remove'), file: name, path }),
  z.object({ do: z.literal('duplicate'), file: name, path }),
  z.object({
    do: z.literal('move'),
    file: name,
    path,
    to: path,
    where: z.enum(['before', 'after', 'start', 'end']),
  }),
  z.object({ do: z.literal('text'), file: name, path, text }),
  z.object({ do: z.literal('markup'), file: name, path, markup: text }),
  /** `value` null: the attribute goes. */
  z.object({ do: z.literal('attribute'), file: name, path, name, value: text.nullable() }),
  z.object({ do: z.literal('state'), file: name, path, states: z.array(z.enum(STATES)).max(8) }),
  /** `content` null: the viewport meta element goes. */
  z.object({ do: z.literal('viewport'), file: name, content: z.string().max(1000).nullable() }),
]);

export const editSchema = z.object({
  id: z.string().min(1).max(60),
  on: z.boolean().default(true),
  /** Edits with the same step were made at once. */
  step: z.string().max(60).default(''),
  /** The widths at which it is laid over, in CSS px; null: at all. */
  widths: z
    .object({ from: z.number().min(0), to: z.number().min(0) })
    .nullable()
    .default(null),
  /** Names of the engines in which it is laid over; null: in all. */
  engines: z.array(z.string().min(1).max(40)).max(10).nullable().default(null),
  /** The name of what it is a part of; '': it stands alone. */
  group: z.string().max(120).default(''),
  change: changeSchema,
});

export const trialSchema = z.object({ edits: z.array(editSchema).max(2000) });

export type RuleTarget = z.infer<typeof ruleTargetSchema>;
export type InlineTarget = z.infer<typeof inlineTargetSchema>;
export type BlockTarget = z.infer<typeof blockTargetSchema>;
export type SheetTarget = z.infer<typeof sheetTargetSchema>;
export type Change = z.infer<typeof changeSchema>;
export type Edit = z.infer<typeof editSchema>;
export type State = (typeof STATES)[number];

/** Whether an edit changes files; a forced state only shows what they already say. */
export const isOfFiles = ({ change }: Edit): boolean => change.do !== 'state';

/** Whether a style sheet can say at which widths an edit holds; what changes elements holds at a width or not at all. */
const isSaidInSheet = ({ change }: Edit): boolean =>
  change.do === 'rule' || ('at' in change && change.at.kind === 'rule');

/** The edits to lay over a page at a width in CSS px, in an engine; '': whichever it is. */
export const laidAt = (edits: readonly Edit[], width: number, engine = ''): Edit[] =>
  edits.filter(
    (edit) =>
      edit.on &&
      (engine === '' || !edit.engines || edit.engines.includes(engine)) &&
      (!edit.widths || isSaidInSheet(edit) || (width >= edit.widths.from && width <= edit.widths.to)),
  );
