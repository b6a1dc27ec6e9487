/** What a user has said of a project's pages, as a file of the project (`normetra.json`; `normetra: "project/1"`). */
import { z } from 'zod';
import { GRADES } from '../evidence/model.ts';
import type { UserGrade } from '../evidence/user-grades.ts';
import { KINDS } from '../finding.ts';
import { RULES } from '../rules/index.ts';

/** The name of the file, in the folder that the pages of the project are in or below. */
export const PROJECT_FILE = 'normetra.json';

const RULE_IDS: readonly string[] = RULES.map(({ id }) => id);
/** Whether grades can be about it: a rule, or a kind of findings. */
export const isRule = (rule: string): boolean =>
  RULE_IDS.includes(rule) || (KINDS as readonly string[]).includes(rule);

export const projectSchema = z.object({
  $schema: z.string().optional(),
  normetra: z.literal('project/1', 'must be "project/1"'),
  grades: z
    .array(
      z.strictObject({
        page: z
          .string()
          .min(1)
          .max(1000)
          .optional()
          .meta({ description: 'path of the page from this file; not there: every page' }),
        rule: z
          .string()
          .max(100)
          .refine(isRule, 'must be the id of a rule (docs/rules has them all) or a kind of findings')
          .meta({ description: 'the id of a rule, or a kind of findings' }),
        place: z
          .string()
          .min(1)
          .max(4000)
          .optional()
          .meta({ description: 'a selector of boxes; not there: wherever the rule tells of something' }),
        declaration: z
          .string()
          .min(1)
          .max(4000)
          .optional()
          .meta({ description: 'property: value, where it is about one declaration' }),
        grade: z.enum(GRADES, 'must be wrong, doubtful or meant'),
        why: z.string().min(1, 'must say why').max(500),
      }),
    )
    .max(5000),
});
export type ProjectDocument = z.infer<typeof projectSchema>;

/** What a project file says. Throws a SyntaxError that says what is wrong and where. */
export function parseProject(text: string): UserGrade[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new SyntaxError(
      `${PROJECT_FILE} is no JSON (${error instanceof Error ? error.message : String(error)})`,
      { cause: error },
    );
  }
  const parsed = projectSchema.safeParse(value);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    const where = issue!.path
      .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
      .join('');
    throw new SyntaxError(`${PROJECT_FILE}: ${where.replace(/^\./, '') || 'the file'} ${issue!.message}`);
  }
  return parsed.data.grades.map(({ page = '', place = '', declaration = '', ...rest }) => ({
    page,
    place,
    declaration,
    ...rest,
  }));
}

/** Whether a file is a project's own, and not the head of a specimen that was exported. */
export const isProjectText = (text: string): boolean => /"normetra"\s*:\s*"project\/1"/.test(text);

export function projectText(grades: readonly UserGrade[]): string {
  const document: ProjectDocument = {
    normetra: 'project/1',
    grades: grades.map(({ page, rule, place, declaration, grade, why }) => ({
      ...(page !== '' && { page }),
      rule,
      ...(place !== '' && { place }),
      ...(declaration !== '' && { declaration }),
      grade,
      why,
    })),
  };
  return `${JSON.stringify(document, null, 2)}\n`;
}
