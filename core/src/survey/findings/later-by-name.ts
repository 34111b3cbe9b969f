import type { Dictionary } from '../../table/index.ts';
import type { Finding } from './finding.ts';

/** Expressions that place a value after admission, treatment or the outcome (common practice). */
const later = [
  /\b(follow ?ups?|readmission|readmitted|last (seen|contact|alive))\b/,
  /\b(length of stay|los|(days|hours|nights) (on|in) (the )?(ward|unit|icu|hospital))\b/,
  /^discharged?\b|\b(at|on|until|to|before) discharge\b|\bdischarge (date|day|status|destination)\b/,
  /\bpost ?(op|operative|operatively|operation|surgery|treatment|procedure|event|discharge)\b/,
  /\bafter (the )?(event|outcome|discharge|surgery|operation|treatment|therapy|diagnosis)\b|\bafter$/,
  /\b(time|days|weeks|months|years) (to|until|till) (event|outcome|death|relapse|recurrence|discharge)\b/,
  /\b(death|died|deceased|autopsy|post ?mortem|survival|mortality)\b/,
];
/** What was so before the risk is predicted. */
const earlier = /\b(previous|previously|prior|past|history|family|earlier|last admission)\b/;
/** A word that dates the outcome when it stands beside its name. */
const dated =
  /\b(date|day|days|time|hour|hours|onset|duration|grade|severity|treatment|confirmed)\b/;

/** Columns whose name says that they are recorded after the outcome. */
export function findLaterByName(
  dictionary: Dictionary,
  usable: boolean[],
  outcome: string,
): Finding[] {
  const outcomeWords = plainWords(outcome);
  return dictionary.flatMap((entry, i): Finding[] => {
    if (!usable[i]) return [];
    const said = [entry.name, entry.label].map(plainWords);
    if (said.some((words) => earlier.test(words))) return [];
    const phrase = said.map((words) => phraseOf(words, outcomeWords)).find((one) => one);
    if (!phrase) return [];
    return [{ code: 'later by name', columns: [entry.name], values: [phrase], figures: {} }];
  });
}

/** What in the name places the value after the outcome. */
function phraseOf(words: string, outcome: string): string | undefined {
  for (const expression of later) {
    const found = expression.exec(words);
    if (found) return found[0];
  }
  const named = outcome.length >= 4 && ` ${words} `.includes(` ${outcome} `);
  return named && dated.test(words) ? words : undefined;
}

/** Words in small letters: "daysToDeath" and "days_to_death" are "days to death". */
const plainWords = (name: string): string =>
  name
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .toLowerCase();
