/** Reasons about readings off the main thread; the main thread asks for what it shows. */
import * as Comlink from 'comlink';
import { createAccounts } from './analyst/accounts.ts';
import { createBeside } from './analyst/beside.ts';
import { createFinding } from './analyst/finding.ts';
import { createHeld } from './analyst/worker-state.ts';
import { createPage } from './analyst/page.ts';
import { createSpots } from './analyst/spots.ts';
import { createTrying } from './analyst/trying.ts';
import { createWishing } from './analyst/wishing.ts';

const held = createHeld();
const beside = createBeside(held);
const trying = createTrying(held);
const analyst = {
  ...createPage(held),
  ...createAccounts(held),
  ...trying.verbs,
  ...beside.verbs,
  ...createFinding(held, beside, trying),
  ...createWishing(held, trying),
  ...createSpots(held),
};

export type Analyst = typeof analyst;
Comlink.expose(analyst);
