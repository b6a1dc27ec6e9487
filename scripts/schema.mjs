/** Writes the JSON Schemas of the documents that Normetra writes: `node --import tsx scripts/schema.mjs`. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { schemaTexts } from '../src/core/reports/schemas.ts';
import { ROOT } from './setup.mjs';

for (const [name, text] of Object.entries(schemaTexts())) writeFileSync(join(ROOT, 'docs/schema', name), text);
