#!/usr/bin/env node
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { bundled } from '../scripts/bundle.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
process.env.NORMETRA_ROOT = root;
await import(pathToFileURL(await bundled(root, 'src/cli/main.ts')).href);
