/** Pages that stand alone: one file, nothing fetched, readable by day and by night and on paper. */

const SIGNS: Readonly<Record<string, string>> = {
  "&": "&amp;",
  "<": "&lt;",
  ">": "&gt;",
  '"': "&quot;",
  "'": "&#39;",
};

/** A text inside a page, also inside an attribute. */
export const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (sign) => SIGNS[sign]!);

/** Data inside a script: nothing in it ends the script. */
export const scriptJson = (value: unknown): string =>
  JSON.stringify(value)
    .replaceAll("<", "\\u003c")
    .replaceAll("\u2028", "\\u2028")
    .replaceAll("\u2029", "\\u2029");

const STYLE = `
:root { color-scheme: light dark; --paper: #fbfaf7; --ink: #23262b; --soft: #63676e; --rule: #d9d6cf; }
@media (prefers-color-scheme: dark) { :root { --paper: #1d1f23; --ink: #e9e7e2; --soft: #a3a6ab; --rule: #3b3e44; } }
@media print { :root { --paper: #fff; --ink: #000; --soft: #444; --rule: #bbb; } }
body { margin: 0 auto; padding: 24px; max-width: 1000px; background: var(--paper); color: var(--ink);
  font: 15px/1.45 system-ui, sans-serif; font-variant-numeric: tabular-nums; }
h1 { font-size: 22px; margin: 0 0 4px; } h2 { font-size: 16px; margin: 28px 0 6px; }
p { margin: 4px 0; } .soft { color: var(--soft); }
table { border-collapse: collapse; width: 100%; } tr { break-inside: avoid; }
th, td { text-align: left; vertical-align: top; padding: 3px 12px 3px 0; border-bottom: 1px dotted var(--rule);
  overflow-wrap: anywhere; } th { font-weight: 400; color: var(--soft); }
td.number, th.number { text-align: right; }
code { font-family: ui-monospace, monospace; font-size: 13px; }
`;

/** @param head more of the head; @param body as it stands */
export const standalonePage = (title: string, body: string, head = ""): string =>
  `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)}</title>
<style>${STYLE}</style>
${head}</head>
<body>
${body}
</body>
</html>
`;
