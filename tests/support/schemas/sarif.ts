/** Whether a value is a SARIF 2.1.0 log by the schema that OASIS publishes. */
import { readFileSync } from 'node:fs';
import { Ajv } from 'ajv';
import formats from 'ajv-formats';

const schema: unknown = JSON.parse(readFileSync(new URL('sarif-2.1.0.json', import.meta.url), 'utf8'));
const ajv = new Ajv({ strict: false, allErrors: true, unicodeRegExp: false });
formats.default(ajv);

export const isSarif = ajv.compile(schema as object);
