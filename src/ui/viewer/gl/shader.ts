/**
 * The viewer's shader: core/playback/shown-pixel.ts in GLSL, pixel for pixel. Two pictures at most meet in a pixel (wipe,
 * difference); each keeps its own reading. Positions are pixels of the screen from the top left of the part.
 *
 * What is chosen seldom is not asked for every pixel but written into the source: a program is made for each variant when
 * it is first needed. One program with every branch took half a second a picture where graphics are computed by the
 * processor; that of plain pictures takes some milliseconds.
 */
import type { Alpha } from "@/core/image/file-format";
import { SKY_DEPTH } from "@/core/image/tone";
import type { Background, ChannelShown, View } from "@/core/playback/shown-as";
import { CHECKER_SIDE, LUMINANCE, ONION_SHARE, SHADES } from "@/core/playback/shown-pixel";

/** How pictures meet: two, or three with the neighbours of a frame. */
export type Meeting = "one" | "wipe" | "difference" | "onion";

/** How the numbers of a texture are read. */
export interface TextureReading {
  /** 1 grey · 2 grey and alpha · 3 colour · 4 colour and alpha. */
  readonly channels: 1 | 2 | 3 | 4;
  readonly view: View;
  readonly alpha: Alpha;
  /** Texels a side that are averaged for a pixel of the screen; 0: enlarged, the nearest one is taken. */
  readonly taps: number;
}

/** Everything that is written into the source. */
export interface Variant {
  readonly meeting: Meeting;
  /** Null: there is no picture, the surround is seen. */
  readonly a: TextureReading | null;
  readonly b: TextureReading | null;
  /** The second neighbour of an onion skin. */
  readonly c: TextureReading | null;
  readonly channel: ChannelShown;
  readonly background: Background;
  readonly hasGamma: boolean;
  readonly hasGrid: boolean;
}

/** Most texels a side that are averaged. */
const MOST_TAPS = 4;

/** @param texels of the picture a pixel of the screen */
export const tapsFor = (texels: number): number =>
  texels <= 1 ? 0 : Math.min(MOST_TAPS, Math.max(1, Math.ceil(texels / 2)));

/** Of a picture in the source. */
type Letter = "A" | "B" | "C";

const float = (value: number): string => value.toFixed(8);

export const VERTEX = `#version 300 es
void main() {
  // One triangle that covers the part.
  vec2 corner = vec2(float((gl_VertexID << 1) & 2), float(gl_VertexID & 2));
  gl_Position = vec4(corner * 2.0 - 1.0, 0.0, 1.0);
}`;

const UNIFORMS = `
uniform sampler2D uPictureA;
uniform sampler2D uPictureB;
uniform sampler2D uPictureC;
uniform vec2 uSizeA;       // of the texture, in its pixels
uniform vec2 uSizeB;
uniform vec2 uSizeC;
uniform float uGainA;      // 2 to the power of the stops
uniform float uGamma;
uniform float uGain;       // of the difference
uniform vec3 uWipe;        // handle x and y in pixels of the screen, angle in radians
uniform vec4 uPlace;       // left, top, width, height of the picture in the part, in pixels of the screen
uniform vec2 uCorner;      // left and top of the part in the drawing buffer
uniform float uHeight;     // of the drawing buffer
uniform float uPixelScale; // pixels of the screen a pixel of the whole picture
uniform vec2 uWhole;       // size of the whole picture
uniform vec3 uSurround;
uniform vec3 uBackdrop;    // of a background of somebody's own
uniform sampler2D uBehind;  // a picture as the background
uniform vec2 uCover;       // parts of it that are seen
uniform float uRatio;      // pixels of the drawing buffer a pixel of the page
`;

const CURVES = `
float finite(float v) {
  return isnan(v) ? 0.0 : clamp(v, -${float(SKY_DEPTH)}, ${float(SKY_DEPTH)});
}
float transfer(float x) {
  return x <= 0.0 ? 0.0 : x >= 1.0 ? 1.0 : x <= 0.0031308 ? 12.92 * x : 1.055 * pow(x, 1.0 / 2.4) - 0.055;
}
float untransfer(float y) {
  return y <= 0.0 ? 0.0 : y >= 1.0 ? 1.0 : y <= 0.04045 ? y / 12.92 : pow((y + 0.055) / 1.055, 2.4);
}
float curve(float x) {
  // Divided by x above 1: its square would leave the range where floats are short.
  return x > 1.0
    ? (2.51 + 0.03 / x) / (2.43 + 0.59 / x + 0.14 / (x * x))
    : (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14);
}
float uncurve(float y) {
  float v = clamp(y, 0.0, 1.0);
  float a = 2.51 - 2.43 * v;
  float b = 0.03 - 0.59 * v;
  float c = -0.14 * v;
  return (-b + sqrt(b * b - 4.0 * a * c)) / (2.0 * a);
}
`;

/** Display value of `v` under a view, as an expression. */
const VIEWED: Readonly<Record<View, string>> = {
  plain: "clamp(v, 0.0, 1.0)",
  srgb: "transfer(v)",
  film: "transfer(curve(max(0.0, v)))",
  depth: `(v >= ${float(SKY_DEPTH)} ? 0.0 : clamp(1.0 / (1.0 + max(0.0, v) / 10.0), 0.0, 1.0))`,
  direction: "clamp((v + 1.0) / 2.0, 0.0, 1.0)",
};

/** What a view makes the display value `v` from. */
const UNVIEWED: Readonly<Record<View, string>> = {
  plain: "v",
  srgb: "untransfer(v)",
  film: "uncurve(untransfer(v))",
  depth: "v",
  direction: "v",
};

/** Red, green, blue and alpha of a texel. */
const SPREAD: Readonly<Record<TextureReading["channels"], string>> = {
  1: "vec4(texel.rrr, 1.0)",
  2: "vec4(texel.rrr, texel.g)",
  3: "vec4(texel.rgb, 1.0)",
  4: "texel",
};

const BACKGROUND: Readonly<Record<Background, string>> = {
  black: "vec3(0.0)",
  white: "vec3(1.0)",
  grey: `vec3(${float(SHADES.grey)})`,
  own: "uBackdrop",
  picture: "texture(uBehind, 0.5 + (part - 0.5) * uCover).rgb",
  checker: `vec3(mod(floor(at.x / (${float(CHECKER_SIDE)} * uRatio)) + floor(at.y / (${float(CHECKER_SIDE)} * uRatio)), 2.0) < 0.5 ? ${float(SHADES.dark)} : ${float(SHADES.light)})`,
};

/** Nearest where the picture is enlarged, the mean of what falls into the pixel where it is made smaller. */
function sampling(name: Letter, { taps }: TextureReading): string {
  if (taps === 0)
    return `
  vec4 texel = texelFetch(uPicture${name}, ivec2(clamp(floor(part * uSize${name}), vec2(0.0), uSize${name} - 1.0)), 0);`;
  if (taps === 1)
    return `
  vec4 texel = texture(uPicture${name}, part);`;
  return `
  vec4 texel = vec4(0.0);
  for (int y = 0; y < ${taps}; y++)
    for (int x = 0; x < ${taps}; x++)
      texel += texture(uPicture${name}, part + ((vec2(float(x), float(y)) + 0.5) / ${float(taps)} - 0.5) / uPlace.zw);
  texel /= ${float(taps * taps)};`;
}

/** The channel that is wanted of `light`, which is a vec3, with `raw` and `a` in sight. */
function choice({ alpha }: TextureReading, name: Letter, channel: ChannelShown): string {
  const one = (value: string): string => `return vec3(shade${name}(${value}));`;
  switch (channel) {
    case "red":
      return one("light.r");
    case "green":
      return one("light.g");
    case "blue":
      return one("light.b");
    case "alpha":
      return "return vec3(a);";
    case "luminance":
      return one(`dot(light, vec3(${LUMINANCE.map(float).join(", ")}))`);
    case "colour": {
      const through =
        alpha === "none"
          ? ""
          : `
  if (a < 1.0) {
    light += vec3(unviewed${name}(behind.r), unviewed${name}(behind.g), unviewed${name}(behind.b)) * (1.0 - a);
  }`;
      return `${through}
  return vec3(shade${name}(light.r), shade${name}(light.g), shade${name}(light.b));`;
    }
  }
}

/** `vec3 shownA(vec2 part, vec3 behind)`: display values of a picture at a place. */
function shownFunction(name: Letter, reading: TextureReading | null, variant: Variant): string {
  if (reading === null) return `vec3 shown${name}(vec2 part, vec3 behind) { return uSurround; }`;
  const { view, alpha, channels } = reading;
  const curved = variant.hasGamma ? `pow(${VIEWED[view]}, 1.0 / uGamma)` : VIEWED[view];
  return `
float shade${name}(float v) { return ${curved}; }
float unviewed${name}(float v) { return ${UNVIEWED[view]}; }
vec3 shown${name}(vec2 part, vec3 behind) {${sampling(name, reading)}
  vec4 raw = ${SPREAD[channels]};
  float a = ${alpha === "none" ? "1.0" : "clamp(finite(raw.a), 0.0, 1.0)"};
  vec3 light = vec3(finite(raw.r), finite(raw.g), finite(raw.b)) * uGainA${alpha === "straight" ? " * a" : ""};
  ${choice(reading, name, variant.channel)}
}`;
}

/** A neighbour shines through; the mean is of the frame as it is, whichever comes first. */
const neighbour = (name: Letter, reading: TextureReading | null): string =>
  reading === null
    ? ""
    : `
  colour += (shown${name}(part, behind) - own) * ${float(ONION_SHARE)};`;

const MEETING: Readonly<Record<Exclude<Meeting, "onion">, string>> = {
  one: "",
  difference: `
  colour = clamp(abs(colour - shownB(part, behind)) * uGain, 0.0, 1.0);`,
  wipe: `
  vec2 from = at - uWipe.xy;
  float side = from.x * cos(uWipe.z) + from.y * sin(uWipe.z);
  if (side >= 0.0) colour = shownB(part, behind);
  // The line itself, dark on light and light on dark.
  if (abs(side) < 0.75 * uRatio) colour = mix(colour, vec3(step(dot(colour, vec3(0.333)), 0.5)), 0.7);`,
};

const GRID = `
  vec2 inPixel = fract(part * uWhole) * uPixelScale;
  if (inPixel.x < 1.0 || inPixel.y < 1.0) colour = mix(colour, vec3(0.5), 0.35);`;

const meet = ({ meeting, b, c }: Variant): string =>
  meeting === "onion"
    ? `
  vec3 own = colour;${neighbour("B", b)}${neighbour("C", c)}`
    : MEETING[meeting];

const isBehindSeen = ({ a, b, c, channel }: Variant): boolean =>
  channel === "colour" && [a, b, c].some((reading) => reading !== null && reading.alpha !== "none");

/** The source for a variant. It is drawn inside the picture alone: the surround is what the buffer is cleared with. */
export const fragmentOf = (variant: Variant): string => `#version 300 es
precision highp float;
precision highp int;
${UNIFORMS}
out vec4 outColour;
${CURVES}
${shownFunction("A", variant.a, variant)}
${variant.meeting === "one" ? "" : shownFunction("B", variant.b, variant)}
${variant.meeting === "onion" ? shownFunction("C", variant.c, variant) : ""}
void main() {
  vec2 at = vec2(gl_FragCoord.x - uCorner.x, uHeight - gl_FragCoord.y - uCorner.y);
  vec2 part = (at - uPlace.xy) / uPlace.zw;
  vec3 behind = ${isBehindSeen(variant) ? BACKGROUND[variant.background] : "vec3(0.0)"};
  vec3 colour = shownA(part, behind);${meet(variant)}${variant.hasGrid ? GRID : ""}
  outColour = vec4(colour, 1.0);
}`;
