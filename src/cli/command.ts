/**
 * What every command shares: exit codes, printing, errors told on standard error.
 * Exit codes are part of what scripts rely on; they come from the table of faults, never from a message.
 */

/** 0 fine, 1 something is wrong with the frames, 2 the call was wrong, 3 the system failed. */
export const EXIT = { fine: 0, frames: 1, call: 2, system: 3 } as const;
export type ExitCode = (typeof EXIT)[keyof typeof EXIT];

/** The call was wrong: told without a stack. */
export class CallWrong extends Error {}

/** Answers go to standard output, and only they: a pipe reads them. */
export const print = (text: string): void => void process.stdout.write(`${text}\n`);
/** One value, one line. */
export const printJson = (value: unknown): void => print(JSON.stringify(value));
/** What went wrong, on standard error. */
export const complain = (text: string): void => void process.stderr.write(`plain-tally: ${text}\n`);

/** A whole number from `min` up, or CallWrong. */
export function wholeNumber(text: string, label: string, min: number): number {
  const value = Number(text);
  if (!/^-?\d+$/.test(text) || !Number.isSafeInteger(value) || value < min)
    throw new CallWrong(`${label} must be a whole number from ${min} up; it is "${text}".`);
  return value;
}

/** One of a few words, or a message that names them all. @throws CallWrong */
export const oneOf = <T extends string>(label: string, value: string, allowed: readonly T[]): T => {
  const found = allowed.find((a) => a === value);
  if (found === undefined)
    throw new CallWrong(`${label} must be ${allowed.join(", ")} here; it is "${value}"`);
  return found;
};

/** Texts between commas. */
export const listOf = (text: string): string[] => text.split(",").map((n) => n.trim());
