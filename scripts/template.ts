import { makeTemplate } from '../src/lib/server/database/open.ts';

await makeTemplate();
