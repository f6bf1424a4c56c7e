/**
 * The viewer's shader: core/playback/shown-pixel.ts in GLSL, pixel for pixel. Two pictures at most meet in a pixel (wipe,
 * difference); each keeps its own reading. Positions are pixels of the screen from the top left of the place.
 */
import { BACKGROUNDS, CHANNELS_SHOWN, VIEWS } from "@/core/playback/shown-as";
import { CHECKER_SIDE, LUMINANCE, SHADES } from "@/core/playback/shown-pixel";
import { ALPHAS } from "@/core/image/file-format";
import { SKY_DEPTH } from "@/core/image/tone";

/** How two pictures meet. */
export const MEETINGS = ["one", "wipe", "difference"] as const;
export type Meeting = (typeof MEETINGS)[number];

/** Most texels a side that are averaged where a picture is shown smaller. */
export const MOST_TAPS = 4;

/** `const int NAME_VALUE = index;` for each of a list, so that both languages count alike. */
const constants = (name: string, values: readonly string[]): string =>
  values.map((value, i) => `const int ${name}_${value.toUpperCase()} = ${i};`).join("\n");

const float = (value: number): string => value.toFixed(8);

export const VERTEX = `#version 300 es
void main() {
  // One triangle that covers the place.
  vec2 corner = vec2(float((gl_VertexID << 1) & 2), float(gl_VertexID & 2));
  gl_Position = vec4(corner * 2.0 - 1.0, 0.0, 1.0);
}`;

export const FRAGMENT = `#version 300 es
precision highp float;
precision highp int;
${constants("VIEW", VIEWS)}
${constants("CHANNEL", CHANNELS_SHOWN)}
${constants("ALPHA", ALPHAS)}
${constants("BACK", BACKGROUNDS)}
${constants("MEET", MEETINGS)}

struct Reading {
  int channels;   // of the texture; 0: there is no picture
  int view;
  int alpha;
  vec2 size;      // of the texture, in its pixels
};

uniform sampler2D uPictureA;
uniform sampler2D uPictureB;
uniform Reading uA;
uniform Reading uB;
uniform float uStops;
uniform float uGamma;
uniform int uChannel;
uniform int uBackground;
uniform int uMeeting;
uniform float uGain;
uniform vec3 uWipe;        // handle x and y in pixels of the screen, angle in radians
uniform vec4 uPlace;       // left, top, width, height of the picture on the screen, in pixels
uniform vec2 uScreen;      // left and bottom of the viewport in the drawing buffer, so that gl_FragCoord begins at 0
uniform float uHeight;     // of the viewport
uniform float uPixelScale; // pixels of the screen a pixel of the whole picture
uniform bool uHasGrid;
uniform vec2 uWhole;       // size of the whole picture
uniform vec3 uSurround;
uniform float uPointerScale; // pixels of the drawing buffer a pixel of the page

out vec4 outColour;

const float LARGEST = ${float(SKY_DEPTH)};

float finite(float v) {
  return isnan(v) ? 0.0 : clamp(v, -LARGEST, LARGEST);
}

float transfer(float x) {
  return x <= 0.0 ? 0.0 : x >= 1.0 ? 1.0 : x <= 0.0031308 ? 12.92 * x : 1.055 * pow(x, 1.0 / 2.4) - 0.055;
}

float untransfer(float y) {
  return y <= 0.0 ? 0.0 : y >= 1.0 ? 1.0 : y <= 0.04045 ? y / 12.92 : pow((y + 0.055) / 1.055, 2.4);
}

float curve(float x) {
  // Divided by x above 1: its square would leave the range of a half where floats are short.
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

float viewed(int view, float v) {
  if (view == VIEW_SRGB) return transfer(v);
  if (view == VIEW_FILM) return transfer(curve(max(0.0, v)));
  if (view == VIEW_DEPTH) return v >= LARGEST ? 0.0 : clamp(1.0 / (1.0 + max(0.0, v) / 10.0), 0.0, 1.0);
  if (view == VIEW_DIRECTION) return clamp((v + 1.0) / 2.0, 0.0, 1.0);
  return clamp(v, 0.0, 1.0);
}

float unviewed(int view, float v) {
  if (view == VIEW_SRGB) return untransfer(v);
  if (view == VIEW_FILM) return uncurve(untransfer(v));
  return v;
}

float shade(int view, float v) {
  return pow(viewed(view, v), 1.0 / uGamma);
}

vec4 spread(int channels, vec4 texel) {
  if (channels == 1) return vec4(texel.rrr, 1.0);
  if (channels == 2) return vec4(texel.rrr, texel.g);
  if (channels == 3) return vec4(texel.rgb, 1.0);
  return texel;
}

float background(vec2 at) {
  if (uBackground == BACK_BLACK) return 0.0;
  if (uBackground == BACK_WHITE) return 1.0;
  if (uBackground == BACK_GREY) return ${float(SHADES.grey)};
  vec2 square = floor(at / (${float(CHECKER_SIDE)} * uPointerScale));
  return mod(square.x + square.y, 2.0) < 0.5 ? ${float(SHADES.dark)} : ${float(SHADES.light)};
}

vec3 shown(Reading how, vec4 raw, float behind) {
  float a = how.alpha == ALPHA_NONE ? 1.0 : clamp(finite(raw.a), 0.0, 1.0);
  float gain = exp2(uStops) * (how.alpha == ALPHA_STRAIGHT ? a : 1.0);
  vec3 light = vec3(finite(raw.r), finite(raw.g), finite(raw.b)) * gain;
  if (uChannel == CHANNEL_RED) return vec3(shade(how.view, light.r));
  if (uChannel == CHANNEL_GREEN) return vec3(shade(how.view, light.g));
  if (uChannel == CHANNEL_BLUE) return vec3(shade(how.view, light.b));
  if (uChannel == CHANNEL_ALPHA) return vec3(how.alpha == ALPHA_NONE ? 1.0 : clamp(finite(raw.a), 0.0, 1.0));
  if (uChannel == CHANNEL_LUMINANCE)
    return vec3(shade(how.view, dot(light, vec3(${LUMINANCE.map(float).join(", ")}))));
  if (a < 1.0) light += unviewed(how.view, behind) * (1.0 - a);
  return vec3(shade(how.view, light.r), shade(how.view, light.g), shade(how.view, light.b));
}

/* Nearest where the picture is enlarged, the mean of what falls into the pixel where it is made smaller. */
vec4 sampled(sampler2D picture, Reading how, vec2 part) {
  float texels = how.size.x / uPlace.z;
  if (texels <= 1.0) {
    ivec2 at = ivec2(clamp(floor(part * how.size), vec2(0.0), how.size - 1.0));
    return spread(how.channels, texelFetch(picture, at, 0));
  }
  int taps = int(clamp(ceil(texels / 2.0), 1.0, ${float(MOST_TAPS)}));
  vec2 cell = vec2(1.0) / uPlace.zw;
  vec4 sum = vec4(0.0);
  for (int y = 0; y < taps; y++)
    for (int x = 0; x < taps; x++) {
      vec2 inside = (vec2(float(x), float(y)) + 0.5) / float(taps) - 0.5;
      sum += spread(how.channels, texture(picture, part + inside * cell));
    }
  return sum / float(taps * taps);
}

void main() {
  vec2 at = vec2(gl_FragCoord.x - uScreen.x, uHeight - (gl_FragCoord.y - uScreen.y));
  vec2 part = (at - uPlace.xy) / uPlace.zw;
  if (part.x < 0.0 || part.y < 0.0 || part.x >= 1.0 || part.y >= 1.0) {
    outColour = vec4(uSurround, 1.0);
    return;
  }
  float behind = background(at);
  vec3 a = uA.channels == 0 ? uSurround : shown(uA, sampled(uPictureA, uA, part), behind);
  vec3 colour = a;
  if (uMeeting != MEET_ONE) {
    vec3 b = uB.channels == 0 ? uSurround : shown(uB, sampled(uPictureB, uB, part), behind);
    if (uMeeting == MEET_DIFFERENCE) colour = clamp(abs(a - b) * uGain, 0.0, 1.0);
    else {
      vec2 from = at - uWipe.xy;
      float side = from.x * cos(uWipe.z) + from.y * sin(uWipe.z);
      colour = side < 0.0 ? a : b;
      if (abs(side) < 0.75 * uPointerScale) colour = mix(colour, vec3(step(dot(colour, vec3(0.333)), 0.5)), 0.7);
    }
  }
  if (uHasGrid) {
    vec2 inPixel = fract(part * uWhole) * uPixelScale;
    if (inPixel.x < 1.0 || inPixel.y < 1.0) colour = mix(colour, vec3(0.5), 0.35);
  }
  outColour = vec4(colour, 1.0);
}`;
