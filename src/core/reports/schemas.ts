/** The published JSON Schemas, made from the schemas that the documents are checked with. */
import { z } from 'zod';
import { profileSchema } from '../css/defaults/profile.ts';
import { findingsDocumentSchema } from './findings.ts';
import { readingDocumentSchema } from './reading.ts';
import { doctorDocumentSchema } from './doctor.ts';
import { matrixDocumentSchema } from './matrix.ts';
import { onlyDocumentSchema } from './only.ts';
import { projectSchema } from './project.ts';
import { sweepDocumentSchema } from './sweep.ts';
import { whyNotDocumentSchema } from './why-not.ts';
import { spotDocumentSchema } from './spots.ts';
import { wishDocumentSchema } from './wishes.ts';

const DOCUMENTS = {
  'reading-1.json': readingDocumentSchema,
  'findings-1.json': findingsDocumentSchema,
  'atlas-1.json': profileSchema,
  'sweep-1.json': sweepDocumentSchema,
  'why-not-1.json': whyNotDocumentSchema,
  'wish-1.json': wishDocumentSchema,
  'spot-1.json': spotDocumentSchema,
  'project-1.json': projectSchema,
  'only-1.json': onlyDocumentSchema,
  'matrix-1.json': matrixDocumentSchema,
  'doctor-1.json': doctorDocumentSchema,
};

/** File name and text of each. */
export const schemaTexts = (): Record<string, string> =>
  Object.fromEntries(
    Object.entries(DOCUMENTS).map(([name, schema]) => [
      name,
      `${JSON.stringify(z.toJSONSchema(schema), null, 1)}\n`,
    ]),
  );
