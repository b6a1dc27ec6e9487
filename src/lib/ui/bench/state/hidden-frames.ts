/** The page measured where nobody sees it: without its trial, under other edits, at other widths. */
import { FULL, MAX_ELEMENTS, OUTLINE } from '$core/reading/reading.ts';
import type { Quantity } from '$core/search/measured-quantity.ts';
import type { Validity } from '$core/css/cascade/plan.ts';
import { editSchema, laidAt, type Change, type Edit } from '$core/trials/edit.ts';
import { openFrame, type Frame } from '$station/frame.ts';
import {
  applyPatch,
  createSession,
  type Port,
  type Read,
  type Reasoner,
  type Session,
  type Texts,
} from '$station/session.ts';
import { survey, takeReading, type Survey } from '$station/survey.ts';
import type { Remote } from 'comlink';
import { z } from 'zod';
import { frameAddress, frameBase, holderAddress } from '../../frames.ts';
import { send } from '../../send.ts';
import type { Analyst } from '../analyst.worker.ts';
import type { Compared } from '../analyst/beside.ts';

export interface HiddenFramesInput {
  analyst: Remote<Analyst>;
  /** The specimen and how its frames are reached. */
  specimen: string;
  host: string;
  /** The revision at hand, by the names that it is served under: with the defaults that lie under it, and without. */
  served: () => { key: string; plainKey: string };
  page: string;
  holder: () => HTMLElement;
  signal: () => AbortSignal;
  size: () => Size;
  /** Whether scrollbars take no room, as on phones. */
  areBarsOver: () => boolean;
  /** The whole trial; what of it is laid over the page; and the texts that it was opened with. */
  trial: () => readonly Edit[];
  edits: () => readonly Edit[];
  opened: () => Texts;
  /** The engine at hand, by the name that edits are limited by. */
  engine: () => string;
  /** `isPlain`: with the engine's own defaults, whatever lies under the page. */
  bare: (mode: 'standards' | 'quirks', isPlain?: boolean) => Promise<Frame>;
  /** Whether nothing but edits changes the page. */
  isQuiet: () => boolean;
  against: () => Against;
}

/** What the page at hand is held against. */
export type Against =
  | { kind: 'plain' }
  | { kind: 'trial'; name: string; edits: readonly Edit[] }
  | { kind: 'revision'; number: number; key: string }
  /** The same files under the defaults as rendered; `key`: of the revision itself. */
  | { kind: 'defaults'; key: string }
  | { kind: 'width'; width: number };

/** A page's key with other texts of some of its files; its own where there are none. */
export async function keyFor(specimen: string, key: string, texts: Texts): Promise<string> {
  if (Object.keys(texts).length === 0) return key;
  const answer = z.object({ key: z.string() });
  return (await send('POST', `/api/specimens/${specimen}/overlays`, answer, { key, texts })).key;
}

/** Whether the engine takes declarations: all frames are in the one that this runs in. */
export const supportsHere: Port['supports'] = (declarations) =>
  declarations.map(([property, value]) => CSS.supports(property, value));

/** Texts of a revision's pages and style sheets, by path. */
export const sourcesOf = (
  specimen: string,
  key: string,
  signal?: AbortSignal,
): Promise<Record<string, string>> =>
  send(
    'GET',
    `/api/specimens/${specimen}/sources?key=${key}`,
    z.record(z.string(), z.string()),
    undefined,
    signal,
  );

/** What a selector of an edit is, where it has one. */
function selectorOf(change: Change): string[] {
  if (change.do === 'rule') return [change.selector];
  if ('at' in change) return [change.at.kind === 'rule' ? change.at.prelude : change.at.path];
  return 'path' in change ? [change.path] : [];
}

interface Size {
  width: number;
  height: number;
}

export type HiddenFrames = ReturnType<typeof createHiddenFrames>;

export function createHiddenFrames({
  analyst,
  specimen,
  host,
  served,
  page,
  holder,
  signal,
  size,
  areBarsOver,
  trial,
  edits,
  opened,
  engine,
  bare,
  isQuiet,
  against: heldAgainst,
}: HiddenFramesInput) {
  let nextLab = 1;
  /** What has been measured to be held against, and where. */
  let measured = '';

  const openAt = async (text: string, at: Size): Promise<Frame> => {
    const frame = await openFrame(
      holder().appendChild(document.createElement('div')),
      frameAddress(host, text, page, 'lab'),
      at,
      signal(),
      holderAddress(host, text, 'lab'),
    );
    if (areBarsOver()) await frame.ask('setScrollbars', { areOver: true });
    return frame;
  };
  const shut = (frame: Frame): void => {
    const around = frame.element.parentElement;
    frame.close();
    around?.remove();
  };

  /** The key and the texts under which what the page is held against is opened. */
  async function standing(against: Against): Promise<{ own: string; texts: Record<string, string> }> {
    if (against.kind === 'revision' || against.kind === 'defaults')
      return { own: against.key, texts: await sourcesOf(specimen, against.key) };
    const texts = await sourcesOf(specimen, served().key);
    const list =
      against.kind === 'trial'
        ? laidAt(against.edits, size().width, engine())
        : against.kind === 'width'
          ? laidAt(trial(), against.width, engine())
          : [];
    if (list.length === 0) return { own: served().key, texts };
    const { files } = await analyst.written(list, page);
    return { own: await keyFor(specimen, served().key, files), texts: { ...texts, ...files } };
  }

  let underWay: Promise<void> = Promise.resolve();
  /** Sees to it that what the page is held against has been measured at the viewport at hand; one after another. */
  function measureBase(): Promise<void> {
    underWay = underWay.then(measureOnce, measureOnce);
    return underWay;
  }

  /** The frame of what the page was held against last, for other sizes of it. */
  let held: { own: string; frame: Frame; surveyed: Survey } | null = null;

  async function openHeld(text: string, texts: Record<string, string>, at: Size): Promise<void> {
    if (held) shut(held.frame);
    held = null;
    const frame = await openAt(text, at);
    const plan = (described: Survey['described']) =>
      analyst.planBeside('base', page, texts, described, frameBase(host, text, 'lab'));
    held = {
      own: text,
      frame,
      surveyed: await survey(frame, plan, (mode) => bare(mode, text === served().plainKey)),
    };
  }

  async function measureOnce(): Promise<void> {
    const now = size();
    const against = heldAgainst();
    const at = against.kind === 'width' ? { ...now, width: against.width } : now;
    const name = JSON.stringify([at, against, against.kind === 'width' ? trial() : null]);
    if (measured === name) return;
    if (against.kind === 'plain' && edits().length === 0) await analyst.keepOwn();
    else {
      const { own, texts } = await standing(against);
      if (held?.own !== own) await openHeld(own, texts, at);
      const { frame, surveyed } = held!;
      frame.resize(at.width, at.height);
      const { reading } = await takeReading(frame, at, 'full');
      await analyst.keepBeside('base', reading, surveyed.validity, surveyed.defaults);
    }
    measured = name;
  }

  /** The frame of the page as rendered, for other sizes of it. */
  let asRendered: { frame: Frame; surveyed: Survey } | null = null;

  let beneath: Promise<void> = Promise.resolve();
  /** Measures the page as rendered and without its trial at the viewport at hand; one after another. */
  function measureRendered(): Promise<void> {
    beneath = beneath.then(renderedOnce, renderedOnce);
    return beneath;
  }

  async function renderedOnce(): Promise<void> {
    const at = size();
    if (!asRendered) {
      const { plainKey } = served();
      const texts = await sourcesOf(specimen, plainKey);
      const frame = await openAt(plainKey, at);
      const plan = (described: Survey['described']) =>
        analyst.planBeside('rendered', page, texts, described, frameBase(host, plainKey, 'lab'));
      asRendered = { frame, surveyed: await survey(frame, plan, (mode) => bare(mode, true)) };
    }
    const { frame, surveyed } = asRendered;
    frame.resize(at.width, at.height);
    const { reading } = await takeReading(frame, at, 'full');
    await analyst.keepBeside('rendered', reading, surveyed.validity, surveyed.defaults);
  }

  /** A frame that nobody sees with the page as it is, to be patched again and again. */
  async function openHidden() {
    const at = size();
    const mine = [...trial()];
    const texts = { ...opened() };
    const text = await keyFor(specimen, served().key, texts);
    const frame = await openAt(text, at);
    const base = frameBase(host, text, 'lab');
    await takeReading(frame, at, 'outline');
    const number = nextLab++;
    return {
      at,
      frame,
      number,
      /** The edits at a width, those of the trial first: an edit of the same declaration goes before that of the trial. */
      all: (more: readonly Edit[], width = at.width): Edit[] => laidAt([...mine, ...more], width, engine()),
      /** What the page must be told to be under edits and with elements hidden; null: it must be opened anew for them. */
      patchOf: (all: Edit[], hide: readonly number[] = [], isWhole = false) =>
        analyst.probe({ number, base }, page, texts, all, [...hide], isWhole),
      close: () => shut(frame),
    };
  }

  /** A frame in which the page is measured under more edits than those at hand, again and again. */
  async function openLab() {
    const { at, frame, all, patchOf, close } = await openHidden();
    return {
      /** The number that the page has under more edits and with elements hidden; null: there is none. */
      measure: async (quantity: Quantity, more: readonly Edit[], hide: readonly number[] = []) => {
        const list = all(more);
        if (!(await applyPatch(frame, (isWhole) => patchOf(list, hide, isWhole))))
          throw new Error(
            'These edits change which elements there are: the page would be opened anew each time.',
          );
        const depth = quantity.of === 'lines' ? 'full' : 'outline';
        const wanted = depth === 'full' ? FULL : OUTLINE;
        return analyst.look(quantity, await frame.ask('read', { depth, wanted, limit: MAX_ELEMENTS }));
      },
      /** The number that the page has once elements of it are taken out of the document, not hidden. */
      without: async (quantity: Quantity, elements: readonly { element: number; path: string }[]) => {
        const removals = elements.map(({ path }, i): Edit =>
          editSchema.parse({ id: `without-${i}`, change: { do: 'remove', file: page, path } }),
        );
        const { files } = await analyst.written(all(removals), page);
        const anew = await openAt(await keyFor(specimen, served().key, files), at);
        try {
          const { reading } = await takeReading(anew, at, 'full');
          return await analyst.lookWithout(
            quantity,
            elements.map(({ element }) => element),
            reading,
          );
        } finally {
          shut(anew);
        }
      },
      close,
    };
  }

  /** A frame in which changes are tried one after another, each read in full. */
  async function openProving() {
    const { at, frame, number, all, patchOf, close } = await openHidden();
    let size: Size = at;
    /** `isKept`: the frame is asked again and again. */
    const sessionOf = (where: Frame, isKept: boolean): Session<Validity> => {
      let supports: boolean[] = [];
      const reasoner: Reasoner<Validity> = {
        // This frame stays as it was opened: for what changes its elements another one is.
        structural: () => ({}),
        patch: async (_opened, list, isWhole) => ({
          patch: await patchOf(list, [], isWhole),
          failed: [],
          texts: {},
        }),
        replan: (list) => analyst.planProbe(list, isKept ? number : null),
        planned: (_request, validity) => {
          ({ supports } = validity);
          return validity;
        },
        learned: (unknown, answers) => analyst.probeTaken(unknown, answers, supports),
      };
      const port: Port = { ask: where.ask, supports: supportsHere };
      return createSession({ reasoner, port: () => port, size: () => size, isQuiet });
    };
    const session = sessionOf(frame, true);
    type Proof = { reading: unknown; validity: Validity } | null;
    const proof = (read: Read<Validity> | null): Proof =>
      read && { reading: read.reading, validity: read.said };
    return {
      /**
       * What the page comes to under more edits at a width of the viewport. null: nobody wants to know any more, which is
       * looked at (`still`) before each step that takes its time.
       */
      measure: async (more: Edit[], width = at.width, still: () => boolean = () => true): Promise<Proof> => {
        size = { ...at, width };
        const list = all(more, width);
        frame.resize(width, at.height);
        const read = await session.layAndRead(list, still);
        if (read || !still()) return proof(read);
        const { files } = await analyst.written(list, page);
        const anew = await openAt(await keyFor(specimen, served().key, files), size);
        return sessionOf(anew, false)
          .readAs(list, still)
          .then(proof)
          .finally(() => shut(anew));
      },
      close,
    };
  }

  function forget(): void {
    held = null;
    asRendered = null;
    measured = '';
  }

  /** What edits do at a width, against the page without them. */
  async function compareAt(list: readonly Edit[], width: number, quantity: Quantity): Promise<Compared> {
    const at = { width, height: size().height };
    const frames: Frame[] = [];
    try {
      const { files } = await analyst.written(laidAt(list, width), page);
      const readings: unknown[] = [];
      for (const text of [served().key, await keyFor(specimen, served().key, files)]) {
        const frame = await openAt(text, at);
        frames.push(frame);
        readings.push((await takeReading(frame, at, 'full')).reading);
      }
      const reached = new Set<number>();
      // A nested rule's selector is none by itself: the page refuses it, and it reaches nothing that can be told.
      for (const selector of new Set(list.flatMap(({ change }) => selectorOf(change))))
        for (const element of await frames[0]!.ask('find', { selector }).catch(() => [])) reached.add(element);
      return { ...(await analyst.compare(readings[0], readings[1], quantity)), reach: reached.size };
    } finally {
      frames.forEach(shut);
    }
  }

  return {
    measureBase,
    measureRendered,
    openLab,
    openProving,
    compareAt,
    /** The page was opened anew, and its frames closed with it: what was measured of it counts no more. */
    reset: forget,
    /** Closes all frames once nothing is measured in them any more: they are opened anew when they are needed. */
    renew: async () => {
      await Promise.allSettled([underWay, beneath]);
      for (const entry of [held, asRendered]) if (entry) shut(entry.frame);
      forget();
    },
  };
}
