/** The trials of one specimen's page: the one that is laid over it, its edits, and the way back. */
import type { Source } from '$core/css/cascade/styles.ts';
import { editSchema, type Change, type Edit, type State } from '$core/trials/edit.ts';
import { z } from 'zod';
import type { Bench } from '../bench/state/bench.svelte.ts';
import { done, wrong } from '../notices/notices.svelte.ts';
import type { Stretched } from '../account/bars/stretch.ts';
import { askConflict, askName } from '../notices/conflicts.svelte.ts';
import { isConflict, okSchema, Refused, send, versionSchema } from '../send.ts';
import { editsTogether, isAlike } from './together.ts';

export interface Trial {
  id: string;
  page: string;
  name: string;
  edits: Edit[];
  /** Which of its states this is: the server counts them. */
  version: number;
}

const trialSchema = z.object({
  id: z.string(),
  page: z.string(),
  name: z.string(),
  edits: z.array(editSchema),
  version: z.number(),
});

export type Trials = ReturnType<typeof createTrials>;

const nextId = (): string => crypto.randomUUID().slice(0, 8);

/** Edits that say something of the same thing, so that the later takes the place of the earlier one. */
function isSameThing(a: Change, b: Change): boolean {
  const key = (change: Change): string => {
    if (change.do === 'change' || change.do === 'mute')
      return JSON.stringify(['declaration', change.at, change.property, change.nth]);
    if (change.do === 'add') return JSON.stringify(['add', change.at, change.property]);
    if (change.do === 'attribute') return JSON.stringify(['attribute', change.path, change.name]);
    if (change.do === 'text' || change.do === 'markup') return JSON.stringify(['inner', change.path]);
    if (change.do === 'state') return JSON.stringify(['state', change.path]);
    if (change.do === 'viewport') return 'viewport';
    return '';
  };
  return key(a) !== '' && key(a) === key(b);
}

const placeOf = ({ sheet, line, column }: Source): string => `${sheet}:${line}:${column}`;

export function createTrials(bench: Bench, specimen: string, previous: Trial[]) {
  const page = bench.input.page;
  let all = $state.raw(previous.filter((trial) => trial.page === page));
  let current = $state.raw<Trial | null>(null);
  let past = $state.raw<Edit[][]>([]);
  let future = $state.raw<Edit[][]>([]);
  let saving: Promise<void> = Promise.resolve();

  const lastKey = `trial:${specimen}:${page}`;
  const remember = (): void => {
    if (current) localStorage.setItem(lastKey, current.id);
    else localStorage.removeItem(lastKey);
  };

  /** Shows edits on the page and keeps them with the specimen; `back`: what they take the place of. */
  function show(edits: Edit[], back: Edit[] | null): void {
    if (!current) return;
    if (back) {
      past = [...past.slice(-199), back];
      future = [];
    }
    const { id } = current;
    update(id, { edits });
    void bench.lay(edits.filter(({ on }) => on)).catch(wrong);
    saving = saving.then(() => save(id)).catch(wrong);
  }

  const here = (id: string): Trial | undefined => all.find((trial) => trial.id === id);

  /** Puts what is known of a trial in the place of what was. */
  function update(id: string, change: Partial<Trial>): void {
    all = all.map((trial) => (trial.id === id ? { ...trial, ...change } : trial));
    if (current?.id === id) current = here(id) ?? null;
  }

  /** The edits of each trial that the server has. */
  const saved = new Map(previous.map(({ id, edits }) => [id, edits]));

  /** Keeps the newest edits of a trial. Where another client has changed it, the user says which count. */
  async function save(id: string): Promise<void> {
    const trial = here(id);
    if (!trial || saved.get(id) === trial.edits) return;
    const { edits, version } = trial;
    try {
      const change = await send('PATCH', `/api/trials/${id}`, versionSchema, { version, edits });
      saved.set(id, edits);
      update(id, change);
    } catch (error) {
      if (error instanceof Refused && error.status === 404) await keepAnew(trial);
      else if (isConflict(error)) await settle(trialSchema.parse(error.now));
      else throw error;
    }
  }

  /** What was deleted elsewhere stays here, as a trial of its own. */
  async function keepAnew({ id, name, edits }: Trial): Promise<void> {
    const result = await send('POST', `/api/specimens/${specimen}/trials`, trialSchema, { page, name, edits });
    saved.set(result.id, edits);
    // What was edited while the request was on its way stays too.
    all = all.map((trial) => (trial.id === id ? { ...result, edits: trial.edits } : trial));
    if (current?.id === id) current = here(result.id) ?? null;
    remember();
    done(`${name} was deleted elsewhere. What is here was kept as a new trial.`);
    await save(result.id);
  }

  /** Takes what another client has kept; where there are edits here that it did not know of, the user says which count. */
  async function settle(theirs: Trial): Promise<void> {
    const { id } = theirs;
    const asked = here(id);
    if (!asked) return;
    const isQuestion = saved.get(id) !== asked.edits && !isAlike(asked.edits, theirs.edits);
    const choice = isQuestion
      ? await askConflict({
          what: `“${asked.name}”`,
          mine: await bench.editWords(asked.edits),
          theirs: await bench.editWords(theirs.edits),
          both: 'Take the edits of both',
        })
      : 'theirs';
    const mine = here(id)?.edits ?? asked.edits;
    const edits =
      choice === 'theirs' ? theirs.edits : choice === 'mine' ? mine : editsTogether(theirs.edits, mine, nextId);
    saved.set(id, theirs.edits);
    update(id, { edits, name: theirs.name, version: theirs.version });
    if (current?.id === id && !isAlike(mine, edits)) {
      past = [...past, mine];
      future = [];
      await bench.lay(edits.filter(({ on }) => on));
    }
    if (choice !== 'theirs') await save(id);
  }

  let beginning: Promise<Trial> | null = null;

  /** The trial at hand; a new one where there is none. Steps that come quickly begin one together. */
  function ensure(): Promise<Trial> {
    if (current) return Promise.resolve(current);
    beginning ??= begin().finally(() => (beginning = null));
    return beginning;
  }

  async function begin(): Promise<Trial> {
    const name = `Trial ${all.length + 1}`;
    const result = await send('POST', `/api/specimens/${specimen}/trials`, trialSchema, {
      page,
      name,
      edits: [],
    });
    all = [...all, result];
    saved.set(result.id, result.edits);
    current = result;
    past = [];
    future = [];
    remember();
    return result;
  }

  let lastGesture = '';
  /**
   * Makes several changes as one step. One that says something of the same thing as an earlier edit takes its place.
   * Steps of one gesture are undone together.
   */
  async function make(changes: Change[], gesture = ''): Promise<void> {
    const goesOn = gesture !== '' && gesture === lastGesture;
    lastGesture = gesture;
    try {
      await ensure();
      const trial = current!;
      const step = nextId();
      let edits = trial.edits;
      for (const change of changes) {
        const at = edits.findIndex((edit) => isSameThing(edit.change, change));
        const editHere = at < 0 ? null : edits[at]!;
        // What a declaration said before the trial stays what it was.
        const was = editHere && 'was' in editHere.change && 'was' in change ? { was: editHere.change.was } : {};
        const edit = editSchema.parse({ id: editHere?.id ?? nextId(), step, change: { ...change, ...was } });
        edits = editHere ? edits.map((entry, i) => (i === at ? edit : entry)) : [...edits, edit];
      }
      show(edits, goesOn ? null : trial.edits);
    } catch (error) {
      wrong(error);
    }
  }

  /** What was asked of the declaration that is edited: every step of it names the same. */
  let prepared: { place: string; target: ReturnType<Bench['target']> } | null = null;

  /** Finds out what an edit of a declaration of a sheet must name, before its first step is made. */
  function prepare(source: Source): void {
    const target = bench.target(source);
    prepared = { place: placeOf(source), target };
    // Where it fails the edit does, which is told.
    target.catch(() => undefined);
  }

  /** What an edit of a declaration that stands at a source must name; told where there is none. */
  async function targetOf(source: Source) {
    const isPrepared = source.origin === 'author' && prepared?.place === placeOf(source);
    const found = await (isPrepared ? prepared!.target : bench.target(source));
    if (!found)
      wrong(
        source.origin === 'browser'
          ? 'This is the browser’s own default: add a declaration of your own to change it.'
          : 'This declaration does not stand in the specimen’s files, so it cannot be edited here.',
      );
    return found;
  }

  /** The edit that put a declaration there; null: the files did. */
  async function ownOf(source: Source): Promise<Edit | null> {
    const path = source.origin === 'author' ? null : await bench.elementPath(bench.pick);
    return (
      (current?.edits ?? []).findLast(({ on, change }) => {
        if (!on || change.do !== 'add' || change.property !== source.property) return false;
        return change.at.kind === 'inline'
          ? change.at.path === path
          : source.origin === 'trial' && change.value === source.value;
      }) ?? null
    );
  }

  /** What gives a declaration another value; none where it does not stand in the files. */
  async function changesFor(source: Source, value: string, important: boolean): Promise<Change[]> {
    const declaration = await ownOf(source);
    if (declaration?.change.do === 'add') return [{ ...declaration.change, value, important }];
    const found = await targetOf(source);
    const { property, value: was } = source;
    return found ? [{ do: 'change', ...found, property, value, important, was }] : [];
  }

  async function set(source: Source, value: string, important: boolean): Promise<void> {
    const changes = await changesFor(source, value, important);
    if (changes.length > 0) await make(changes);
  }

  /** Gives box sides other sizes; `gesture`: steps of the same one are undone together. */
  async function stretch(element: number, list: Stretched[], gesture: string): Promise<void> {
    const path = await pathFor(element);
    if (path === null) return;
    const changes: Change[] = [];
    for (const { edit, source, important } of list) {
      if (edit.do === 'set') changes.push(...(await changesFor(source!, edit.value, important)));
      else {
        const at = source ? (await targetOf(source))?.at : { kind: 'inline' as const, file: page, path };
        if (at) changes.push(...edit.list.map((written): Change => ({ do: 'add', at, ...written })));
      }
    }
    if (changes.length > 0) await make(changes, gesture);
  }

  async function mute(source: Source): Promise<void> {
    const declaration = await ownOf(source);
    if (declaration)
      return replace(
        (current?.edits ?? []).map((edit) => (edit === declaration ? { ...edit, on: false } : edit)),
      );
    const found = await targetOf(source);
    if (!found) return;
    await make([{ do: 'mute', ...found, property: source.property, was: source.value }]);
  }

  /** Declarations of an element's own: in its style attribute. */
  async function add(element: number, list: { property: string; value: string }[]): Promise<void> {
    const path = await pathFor(element);
    if (path === null) return;
    await make(
      list.map(({ property, value }) => ({
        do: 'add',
        at: { kind: 'inline', file: page, path },
        property,
        value,
        important: false,
      })),
    );
  }

  async function pathFor(element: number): Promise<string | null> {
    const path = await bench.elementPath(element);
    if (path === null) wrong('What is in a frame of the page cannot be edited here: open its own page.');
    return path;
  }

  async function remove(element: number): Promise<void> {
    const path = await pathFor(element);
    if (path !== null) await make([{ do: 'remove', file: page, path }]);
  }

  async function force(element: number, states: State[]): Promise<void> {
    const path = await pathFor(element);
    if (path === null) return;
    await make([{ do: 'state', file: page, path, states }]);
  }

  function undo(): void {
    const back = past.at(-1);
    if (!current || !back) return;
    past = past.slice(0, -1);
    future = [...future, current.edits];
    show(back, null);
  }

  function redo(): void {
    const next = future.at(-1);
    if (!current || !next) return;
    future = future.slice(0, -1);
    past = [...past, current.edits];
    show(next, null);
  }

  function replace(edits: Edit[]): void {
    if (current) show(edits, current.edits);
  }

  function group(id: string, name: string): void {
    const list = current?.edits ?? [];
    const ownEdit = list.find((entry) => entry.id === id);
    if (!ownEdit) return;
    const rest = list.filter((entry) => entry !== ownEdit);
    const result = { ...ownEdit, group: name.trim() };
    const last = result.group === '' ? -1 : rest.findLastIndex((entry) => entry.group === result.group);
    replace(
      last < 0
        ? list.map((entry) => (entry === ownEdit ? result : entry))
        : rest.toSpliced(last + 1, 0, result),
    );
  }

  /** Lays another trial over the page; null: none. */
  function choose(trial: Trial | null): void {
    current = trial;
    past = [];
    future = [];
    remember();
    void bench.lay(trial?.edits.filter(({ on }) => on) ?? []).catch(wrong);
  }

  async function fork(): Promise<void> {
    if (!current) return;
    try {
      const { edits, name } = current;
      const body = { page, name: `${name}, forked`, edits };
      const result = await send('POST', `/api/specimens/${specimen}/trials`, trialSchema, body);
      all = [...all, result];
      saved.set(result.id, result.edits);
      choose(result);
      done(`${result.name} begins where ${name} is.`);
    } catch (error) {
      wrong(error);
    }
  }

  async function rename(name: string, trial: Trial | null = current): Promise<void> {
    if (!trial || name.trim() === '') return;
    const { id, name: was } = trial;
    await saving;
    const version = here(id)?.version;
    try {
      update(id, { name, ...(await send('PATCH', `/api/trials/${id}`, versionSchema, { version, name })) });
    } catch (error) {
      if (!isConflict(error)) return wrong(error);
      const theirs = trialSchema.parse(error.now);
      const choice = await askName(was, name, theirs.name);
      // Its edits may be others too: a version that is taken over without them would overwrite them later.
      saving = saving.then(() => settle(theirs)).catch(wrong);
      await saving;
      if (choice === 'mine') await rename(name, here(id) ?? null);
    }
  }

  async function discard(): Promise<void> {
    if (!current) return;
    const { id, name } = current;
    await saving;
    const version = here(id)?.version;
    try {
      await send('DELETE', `/api/trials/${id}?version=${version}`, okSchema);
    } catch (error) {
      if (!isConflict(error)) return wrong(error);
      const theirs = trialSchema.parse(error.now);
      const choice = await askConflict({
        what: `“${name}”`,
        mine: ['It is to be deleted.'],
        theirs: await bench.editWords(theirs.edits),
        both: null,
      });
      saved.set(id, theirs.edits);
      update(id, theirs);
      if (choice === 'mine') return discard();
      return choose(here(id) ?? null);
    }
    all = all.filter((trial) => trial.id !== id);
    choose(null);
    done(`${name} is deleted.`);
  }

  return {
    get all() {
      return all;
    },
    get current() {
      return current;
    },
    get edits() {
      return current?.edits ?? [];
    },
    get canUndo() {
      return past.length > 0;
    },
    get canRedo() {
      return future.length > 0;
    },
    /** The trial that was laid over the page last, if it is still there. */
    recall: (): Edit[] => {
      const id = localStorage.getItem(lastKey);
      current = all.find((trial) => trial.id === id) ?? null;
      return current?.edits.filter(({ on }) => on) ?? [];
    },
    make,
    prepare,
    set,
    mute,
    stretch,
    add,
    remove,
    force,
    undo,
    redo,
    choose,
    fork,
    rename,
    discard,
    ensure,
    toggle: (id: string) =>
      replace((current?.edits ?? []).map((edit) => (edit.id === id ? { ...edit, on: !edit.on } : edit))),
    /** The engines in which an edit is laid over; null: in all. */
    limitEngines: (id: string, engines: Edit['engines']) =>
      replace((current?.edits ?? []).map((edit) => (edit.id === id ? { ...edit, engines } : edit))),
    /** The widths at which an edit is laid over; null: at all. */
    limit: (id: string, widths: Edit['widths']) =>
      replace((current?.edits ?? []).map((edit) => (edit.id === id ? { ...edit, widths } : edit))),
    /** Puts an edit behind the others of a group; '': it stands alone. */
    group,
    /** Switches all edits of a group on or off. */
    toggleGroup: (name: string, on: boolean) =>
      replace((current?.edits ?? []).map((edit) => (edit.group === name ? { ...edit, on } : edit))),
    dropAll: (ids: readonly string[]) => replace((current?.edits ?? []).filter(({ id }) => !ids.includes(id))),
    drop: (id: string) => replace((current?.edits ?? []).filter((edit) => edit.id !== id)),
    reset: () => replace([]),
    shift: (id: string, by: -1 | 1) => {
      const list = [...(current?.edits ?? [])];
      const at = list.findIndex((entry) => entry.id === id);
      const to = at + by;
      if (at < 0 || to < 0 || to >= list.length) return;
      [list[at], list[to]] = [list[to]!, list[at]!];
      replace(list);
    },
  };
}
