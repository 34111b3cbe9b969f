/** A question of the server that has to be answered before it does what was asked. */
export interface Question {
  title: string;
  text: string;
  /** What follows from the answer yes. */
  consequence?: string;
  /** What it is done by. */
  yes: string;
  answer: (agreed: boolean) => void;
}

let asked: Question | undefined;
const watchers = new Set<() => void>();

export const questionStore = {
  subscribe: (watcher: () => void) => {
    watchers.add(watcher);
    return () => watchers.delete(watcher);
  },
  get: () => asked,
};

/** What may be asked, by the code of the refusal: the header that agrees to it, and how it is asked. */
export const questions: Record<
  string,
  { agrees: string; title: string; yes: string; consequence?: string }
> = {
  'seen-patients': {
    agrees: 'move seen patients',
    title: 'Patients who were shown would become development patients',
    yes: 'Move them',
    consequence: 'The move is kept in the history, and figures of the earlier split are marked.',
  },
  'lost-cells': {
    agrees: 'lose cells',
    title: 'Cells would become missing',
    yes: 'Change the columns',
  },
};

/** Asks whoever sits at the page. */
export function askPerson(question: Omit<Question, 'answer'>): Promise<boolean> {
  return new Promise((resolve) => {
    show({
      ...question,
      answer: (agreed) => {
        show(undefined);
        resolve(agreed);
      },
    });
  });
}

function show(question: Question | undefined) {
  asked = question;
  watchers.forEach((watcher) => watcher());
}
