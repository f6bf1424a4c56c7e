/**
 * Arguments of a call with {names} for values: each argument stays one, whatever its values hold.
 * No shell reads the result: what a value holds is never taken for syntax.
 */

const MARK = /\{([^{}]*)\}/g;

/** Names in braces that mean nothing here. */
export const unknownNames = (template: readonly string[], known: readonly string[]): string[] =>
  template
    .flatMap((argument) => [...argument.matchAll(MARK)].map((m) => m[1]!))
    .filter((name) => !known.includes(name));

/** Names that have no value stay as they are. */
export const fillTemplate = (
  template: readonly string[],
  values: Readonly<Record<string, string | number>>,
): string[] =>
  template.map((argument) =>
    argument.replaceAll(MARK, (mark, name: string) =>
      Object.hasOwn(values, name) ? String(values[name]) : mark,
    ),
  );
