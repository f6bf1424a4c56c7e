/**
 * The tally as a sentence: results in one clause, activity in another.
 * Clauses are named after results and activities, which are names of the phrase language: each can be
 * selected.
 */
import { ACTIVITIES, RESULTS, type TallyCounts } from "./tally";

/** In groups of three digits. */
const number = (n: number): string => n.toLocaleString("en");

export interface SentencePart {
  readonly name: (typeof RESULTS)[number] | (typeof ACTIVITIES)[number];
  /** "3 missing" */
  readonly text: string;
}

export interface Sentence {
  /** "93 of 96 good" */
  readonly opening: string;
  /** What is not good, the worst first. */
  readonly results: readonly SentencePart[];
  readonly activities: readonly SentencePart[];
}

/**
 * Parts of the sentence, so that a page can make each a link to its frames. Good frames are in the opening
 * and not repeated.
 */
export function tallySentence(counts: TallyCounts): Sentence {
  const results = RESULTS.filter((r) => r !== "good" && counts.results[r] > 0).map((name) => ({
    name,
    text: `${number(counts.results[name])} ${name}`,
  }));
  const activities = ACTIVITIES.filter((a) => counts.activity[a] > 0).map((name) => ({
    name,
    text: `${number(counts.activity[name])} ${name}`,
  }));
  const opening =
    counts.asked > 0 && counts.results.good === counts.asked
      ? `All ${number(counts.asked)} good`
      : `${number(counts.results.good)} of ${number(counts.asked)} good`;
  return { opening, results, activities };
}

/** The sentence as text, for the command line and screen readers. */
export function sentenceText(counts: TallyCounts): string {
  const { opening, results, activities } = tallySentence(counts);
  const first = [opening, ...results.map((p) => p.text)].join(", ");
  return activities.length === 0 ? `${first}.` : `${first}. ${activities.map((p) => p.text).join(", ")}.`;
}
