/**
 * One HTML file that plays a sequence anywhere, without a server: its pictures are in it. Made in three parts, so that a
 * long sequence is never in memory whole: the head, a line a picture, the end.
 */
import type { Rate } from "../timing/rate";
import { escapeHtml, scriptJson } from "./html";

export interface MovingPage {
  readonly title: string;
  readonly rate: Rate;
  readonly width: number;
  readonly height: number;
  /** What stands under it, as sentences. */
  readonly notes: readonly string[];
}

const STYLE = `
:root { color-scheme: dark; }
body { margin: 0; background: #808080; color: #111; font: 15px/1.4 system-ui, sans-serif;
  font-variant-numeric: tabular-nums; display: flex; flex-direction: column; min-height: 100vh; }
main { flex: 1; display: flex; align-items: center; justify-content: center; min-height: 0; padding: 12px; }
img { max-width: 100%; max-height: calc(100vh - 110px); object-fit: contain; display: block; }
footer { background: #f4f2ed; padding: 10px 16px 12px; }
.line { display: flex; gap: 16px; align-items: center; }
input[type=range] { flex: 1; min-width: 80px; }
button { font: inherit; padding: 4px 14px; }
output { min-width: 7em; text-align: right; }
p { margin: 4px 0 0; color: #555; }
`;

/** Until all pictures are there. */
export const movingPageHead = ({ title, width, height, notes }: MovingPage): string => `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)}</title>
<style>${STYLE}</style>
</head>
<body>
<main><img id="picture" width="${width}" height="${height}" alt="${escapeHtml(title)}"></main>
<footer>
<div class="line"><button id="play" type="button">Play</button><input id="place" type="range" min="0" value="0" aria-label="Frame"><output id="frame"></output></div>
<p>${escapeHtml([title, ...notes].join(" · "))}</p>
<p>Blank plays and stops, the arrow keys step, Home and End go to the first and the last frame.</p>
</footer>
<script>const pictures = [];
`;

/** @param jpeg as base64; @param label what the frame is called */
export const movingPagePicture = (label: string, jpeg: string): string =>
  `pictures.push([${scriptJson(label)}, "${jpeg}"]);\n`;

/** The player: what is due is shown by the clock, and a picture that is not decoded in time is left out. */
export const movingPageEnd = ({
  rate,
}: MovingPage): string => `const secondsEach = ${rate.denominator} / ${rate.numerator};
const picture = document.getElementById("picture"), place = document.getElementById("place");
const frame = document.getElementById("frame"), play = document.getElementById("play");
let at = 0, began = null;
place.max = pictures.length - 1;
function show(n) {
  at = (n + pictures.length) % pictures.length;
  picture.src = "data:image/jpeg;base64," + pictures[at][1];
  place.value = at;
  frame.textContent = pictures[at][0];
}
function stand() { began = null; play.textContent = "Play"; }
function go() { began = performance.now() - at * secondsEach * 1000; play.textContent = "Stop"; requestAnimationFrame(tick); }
function tick(now) {
  if (began === null) return;
  const due = Math.floor((now - began) / 1000 / secondsEach) % pictures.length;
  if (due !== at && due >= 0) show(due);
  requestAnimationFrame(tick);
}
play.onclick = () => (began === null ? go() : stand());
place.oninput = () => { stand(); show(Number(place.value)); };
addEventListener("keydown", (event) => {
  const step = { ArrowLeft: at - 1, ArrowRight: at + 1, Home: 0, End: pictures.length - 1 }[event.key];
  if (event.key === " " && event.target !== play) { event.preventDefault(); play.onclick(); }
  else if (step !== undefined) { event.preventDefault(); stand(); show(step); }
});
if (pictures.length > 0) show(0);
</script>
</body>
</html>
`;
