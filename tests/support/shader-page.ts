/**
 * In the browser: paints test patterns with the viewer's shader and computes the same with the reference. Bundled by the
 * test and put into a blank page; `window.shaderGaps` is what it finds, the largest difference of each case in steps of
 * 255.
 */
import type { LoadedPixels } from "@/contract/picture-messages";
import { ALPHAS } from "@/core/image/file-format";
import { fromHalf, toHalf } from "@/core/image/half";
import { BACKGROUNDS, CHANNELS_SHOWN, type Colour, VIEWS } from "@/core/playback/shown-as";
import {
  backgroundAt,
  isBeforeWipe,
  type PixelLook,
  type Raw,
  shownDifference,
  shownOnion,
  shownPixel,
} from "@/core/playback/shown-pixel";
import { type Painted, Painter, type Painting } from "@/ui/viewer/gl/painter";

const SIDE = 48;
const PLACE = { left: 0, top: 0, width: SIDE, height: SIDE } as const;
/** A colour that no shade of grey is. */
const BACKDROP = [0.9, 0.4, 0.1] as const;
/** Light from far below black to far above white, and what is no number. */
const LIGHT = [
  NaN,
  Infinity,
  -1,
  -0.01,
  0,
  0.0005,
  0.003,
  0.02,
  0.18,
  0.5,
  0.99,
  1,
  1.5,
  4,
  40,
  65_504,
] as const;

/** Columns go through the light, rows through alpha; each channel a way of its own. */
function halves(): LoadedPixels {
  const data = new Uint16Array(SIDE * SIDE * 4);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const at = (y * SIDE + x) * 4;
      for (let c = 0; c < 3; c++) data[at + c] = toHalf(LIGHT[(x + c * 5 + y) % LIGHT.length]!);
      data[at + 3] = toHalf(y / (SIDE - 1));
    }
  return {
    kind: "halves",
    width: SIDE,
    height: SIDE,
    wholeWidth: SIDE,
    wholeHeight: SIDE,
    channels: 4,
    data,
  };
}

const byteAt = (x: number, y: number, c: number): number =>
  c === 3 ? Math.round((y / (SIDE - 1)) * 255) : (x * 5 + c * 80 + y) % 256;

/** Behind the others: half as high as it is wide, so that a quarter hangs over on either side. */
const BEHIND = { width: SIDE * 2, height: SIDE } as const;
const behindAt = (x: number, y: number, c: number): number => (x * 2 + c * 50 + y * 3) % 256;

async function behind(): Promise<LoadedPixels> {
  const { width, height } = BEHIND;
  const image = new ImageData(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 4; c++) image.data[(y * width + x) * 4 + c] = c === 3 ? 255 : behindAt(x, y, c);
  const bitmap = await createImageBitmap(image, { premultiplyAlpha: "none", colorSpaceConversion: "none" });
  return { kind: "bytes", bitmap, width, height, wholeWidth: width, wholeHeight: height };
}

/** What lies under a pixel of the front one. */
const backdropAt = (background: (typeof BACKGROUNDS)[number], x: number, y: number): Colour =>
  background === "picture"
    ? ([0, 1, 2].map((c) => behindAt(x + SIDE / 2, y, c) / 255) as unknown as Colour)
    : BACKDROP;

async function bytes(): Promise<LoadedPixels> {
  const image = new ImageData(SIDE, SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++)
      for (let c = 0; c < 4; c++) image.data[(y * SIDE + x) * 4 + c] = byteAt(x, y, c);
  const bitmap = await createImageBitmap(image, { premultiplyAlpha: "none", colorSpaceConversion: "none" });
  return { kind: "bytes", bitmap, width: SIDE, height: SIDE, wholeWidth: SIDE, wholeHeight: SIDE };
}

function rawAt(pixels: LoadedPixels, x: number, y: number): Raw {
  const value = (c: number): number =>
    pixels.kind === "halves" ? fromHalf(pixels.data[(y * SIDE + x) * 4 + c]!) : byteAt(x, y, c) / 255;
  return [value(0), value(1), value(2), value(3)];
}

type Wanted = (x: number, y: number) => Colour;

const lookOf = (settings: Partial<PixelLook>): PixelLook => ({
  stops: 0,
  gamma: 1,
  channel: "colour",
  view: "plain",
  alpha: "none",
  ...settings,
});

const wantedOf =
  (pixels: LoadedPixels, look: PixelLook, background: (typeof BACKGROUNDS)[number]): Wanted =>
  (x, y) => {
    const under = backgroundAt(background, backdropAt(background, x, y), x + 0.5, y + 0.5);
    return shownPixel(rawAt(pixels, x, y), look, under);
  };

async function run(): Promise<Record<string, number>> {
  const canvas = document.createElement("canvas");
  document.body.append(canvas);
  const painter = Painter.open(canvas, () => undefined);
  if (painter === null) throw new Error("no WebGL2");
  const [light, shown, under] = [halves(), await bytes(), await behind()];
  const gaps: Record<string, number> = {};

  const compare = (
    name: string,
    painting: Partial<Painting>,
    pane: Partial<Painting["panes"][number]>,
    wanted: Wanted,
  ) => {
    painter.paint({
      width: SIDE,
      height: SIDE,
      look: { stops: 0, gamma: 1, channel: "colour", background: "checker", backdrop: BACKDROP },
      behind: under,
      wipe: { x: 0.5, y: 0.5, degrees: 0 },
      gain: 1,
      hasGrid: false,
      surround: [0, 0, 0],
      ratio: 1,
      ...painting,
      panes: [{ part: PLACE, place: PLACE, a: null, b: null, c: null, meeting: "one", ...pane }],
    });
    const out = new Uint8Array(SIDE * SIDE * 4);
    const gl = canvas.getContext("webgl2")!;
    gl.readPixels(0, 0, SIDE, SIDE, gl.RGBA, gl.UNSIGNED_BYTE, out);
    let largest = 0;
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++) {
        const colour = wanted(x, y);
        // The buffer's lines stand from the bottom up.
        for (let c = 0; c < 3; c++)
          largest = Math.max(largest, Math.abs(out[((SIDE - 1 - y) * SIDE + x) * 4 + c]! - colour[c]! * 255));
      }
    gaps[name] = largest;
  };

  const painted = (pixels: LoadedPixels, look: PixelLook): Painted => ({
    pixels,
    view: look.view,
    alpha: look.alpha,
  });
  const alone = (
    name: string,
    pixels: LoadedPixels,
    look: PixelLook,
    background: (typeof BACKGROUNDS)[number],
  ) =>
    compare(
      name,
      { look: { ...look, background, backdrop: BACKDROP } },
      { a: painted(pixels, look) },
      wantedOf(pixels, look, background),
    );

  for (const [kind, pixels] of [
    ["light", light],
    ["bytes", shown],
  ] as const) {
    for (const view of VIEWS)
      for (const alpha of ALPHAS)
        alone(`${kind} ${view} ${alpha}`, pixels, lookOf({ view, alpha }), "checker");
    for (const channel of CHANNELS_SHOWN)
      alone(`${kind} ${channel}`, pixels, lookOf({ channel, alpha: "straight", view: "srgb" }), "grey");
    for (const background of BACKGROUNDS)
      alone(`${kind} on ${background}`, pixels, lookOf({ alpha: "straight" }), background);
    for (const stops of [-6, -1, 0.5, 3])
      alone(
        `${kind} ${stops} stops`,
        pixels,
        lookOf({ stops, view: "film", alpha: "premultiplied" }),
        "white",
      );
    for (const gamma of [0.5, 1.8, 2.4]) alone(`${kind} gamma ${gamma}`, pixels, lookOf({ gamma }), "black");
  }

  const [one, other] = [lookOf({ view: "srgb" }), lookOf({})];
  const wantedOne = wantedOf(light, one, "grey");
  const wantedOther = wantedOf(shown, other, "grey");
  const pair = { a: painted(light, one), b: painted(shown, other) };
  const look = { stops: 0, gamma: 1, channel: "colour", background: "grey", backdrop: BACKDROP } as const;
  for (const gain of [1, 8])
    compare(`difference x ${gain}`, { look, gain }, { ...pair, meeting: "difference" }, (x, y) =>
      shownDifference(wantedOne(x, y), wantedOther(x, y), gain),
    );
  compare("onion", { look }, { ...pair, c: painted(light, other), meeting: "onion" }, (x, y) =>
    shownOnion(wantedOne(x, y), [wantedOther(x, y), wantedOf(light, other, "grey")(x, y)]),
  );
  compare("onion with one neighbour", { look }, { ...pair, meeting: "onion" }, (x, y) =>
    shownOnion(wantedOne(x, y), [wantedOther(x, y)]),
  );
  for (const degrees of [0, 30, 90, 200]) {
    const wipe = { x: 0.4, y: 0.6, degrees };
    const [dx, dy] = [(x: number) => x + 0.5 - wipe.x * SIDE, (y: number) => y + 0.5 - wipe.y * SIDE];
    const angle = (degrees * Math.PI) / 180;
    compare(`wipe ${degrees}`, { look, wipe }, { ...pair, meeting: "wipe" }, (x, y) => {
      // The line itself is drawn over both.
      const off = Math.abs(dx(x) * Math.cos(angle) + dy(y) * Math.sin(angle));
      const own = isBeforeWipe(degrees, dx(x), dy(y)) ? wantedOne(x, y) : wantedOther(x, y);
      if (off >= 1) return own;
      const out = new Uint8Array(4);
      const gl = canvas.getContext("webgl2")!;
      gl.readPixels(x, SIDE - 1 - y, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, out);
      return [out[0]! / 255, out[1]! / 255, out[2]! / 255];
    });
  }
  painter.close();
  return gaps;
}

declare global {
  interface Window {
    shaderGaps: Promise<Record<string, number>>;
  }
}
window.shaderGaps = run();
