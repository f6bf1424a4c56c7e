/**
 * Line of a JSON fault. V8 says the position in its message; other engines do not, and then the last line is
 * named.
 */
export function jsonFaultLine(text: string, error: Error): number {
  const position = Number(/position (\d+)/.exec(error.message)?.[1] ?? text.length);
  return text.slice(0, position).split("\n").length;
}
