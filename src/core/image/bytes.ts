/** Building binary files piece by piece. */

export function joinBytes(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** One byte a letter (Latin-1); letters outside become question marks. */
export const latin1 = (text: string): Uint8Array =>
  Uint8Array.from(text, (c) => (c.charCodeAt(0) < 256 ? c.charCodeAt(0) : 63));

/** Bytes as ISO 8859-1, each one character: never fails, whatever they are. */
export function fromLatin1(bytes: Uint8Array): string {
  let text = "";
  for (const byte of bytes) text += String.fromCharCode(byte);
  return text;
}

/** The same bytes for reading numbers; no copy, so writing to one is writing to both. */
export const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Text lines `key=value` of formats that have one free text field; JSON values hold no line breaks. */
export const textLines = (texts: Readonly<Record<string, string>>): string =>
  Object.entries(texts)
    .map(([key, value]) => `${key}=${value}`)
    .join("\n");

/**
 * Lines `key=value` of a comment field, the format in which files without named texts carry ours. Other lines
 * are somebody else's and are skipped.
 */
export function readTextLines(text: string): Map<string, string> {
  return new Map(
    text.split("\n").flatMap((line) => {
      const cut = line.indexOf("=");
      return cut > 0 ? [[line.slice(0, cut), line.slice(cut + 1)] as const] : [];
    }),
  );
}
