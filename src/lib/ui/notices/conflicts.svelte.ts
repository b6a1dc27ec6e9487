/** What was changed here and elsewhere at once: both are shown, and the user takes either or both. */
export type Choice = 'mine' | 'theirs' | 'both';

export interface ConflictQuestion {
  /** What was changed: “The trial Trial 1”. */
  what: string;
  /** What each side says, line by line. */
  mine: string[];
  theirs: string[];
  /** What taking both comes to, as the words of its button; null: there is no such thing. */
  both: string | null;
}

interface Asked extends ConflictQuestion {
  answer: (choice: Choice) => void;
}

const asked = $state<{ list: Asked[] }>({ list: [] });

/** The question that is shown. */
export const currentConflict = (): Asked | null => asked.list[0] ?? null;

/** Shows what is here and what is there, and waits for the choice. */
export const askConflict = (question: ConflictQuestion): Promise<Choice> =>
  new Promise((resolve) => {
    const entry: Asked = {
      ...question,
      answer: (choice) => {
        asked.list = asked.list.filter((asked) => asked.answer !== entry.answer);
        resolve(choice);
      },
    };
    asked.list = [...asked.list, entry];
  });

/** The question about a name that was changed elsewhere too. Nothing is asked where it is what it was: something else was changed. */
export const askName = async (was: string, mine: string, theirs: string): Promise<Choice> =>
  theirs === was
    ? 'mine'
    : askConflict({ what: `The name of “${was}”`, mine: [mine], theirs: [theirs], both: null });
