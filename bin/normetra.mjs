#!/usr/bin/env node
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { setFlagsFromString } from 'node:v8';
import { bundled, INLINE_LESS } from '../scripts/bundle.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
process.env.NORMETRA_ROOT = root;
setFlagsFromString(INLINE_LESS);
await import(pathToFileURL(await bundled(root, 'src/cli/main.ts')).href);
