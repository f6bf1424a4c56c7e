"use client";
/**
 * Paints pictures into a canvas by WebGL2. It owns the context, a program for each variant and a few textures; what it paints is one
 * readonly record (`Painting`), so that the same record is painted again when the context comes back after it was lost.
 */
import type { LoadedPixels } from "@/contract/picture-messages";
import type { Alpha } from "@/core/image/file-format";
import type { Look, View } from "@/core/playback/shown-as";
import type { Wipe } from "@/core/playback/shown-pixel";
import { coverOf } from "@/core/playback/zoom";
import { fragmentOf, type Meeting, tapsFor, type TextureReading, type Variant, VERTEX } from "./shader";

/** A picture with how its numbers are read. */
export interface Painted {
  readonly pixels: LoadedPixels;
  readonly view: View;
  readonly alpha: Alpha;
}

/** In pixels of the drawing buffer. */
export interface Rectangle {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** One part of the canvas with one picture, or two that meet in it. */
export interface Pane {
  readonly part: Rectangle;
  /** Where the picture lies, from the part's corner; it may reach beyond the part. */
  readonly place: Rectangle;
  /** Null: there is no picture, the surround is seen. */
  readonly a: Painted | null;
  readonly b: Painted | null;
  /** The second neighbour of an onion skin. */
  readonly c: Painted | null;
  readonly meeting: Meeting;
}

export interface Painting {
  readonly width: number;
  readonly height: number;
  readonly panes: readonly Pane[];
  readonly look: Pick<Look, "stops" | "gamma" | "channel" | "background" | "backdrop">;
  /** The picture of a `picture` background; without one it is the checker. */
  readonly behind: LoadedPixels | null;
  /** Handle in parts of the picture. */
  readonly wipe: Wipe;
  /** Of the difference. */
  readonly gain: number;
  /** Lines between pixels where each is large. */
  readonly hasGrid: boolean;
  /** Red, green and blue, 0 to 1. */
  readonly surround: readonly [number, number, number];
  /** Pixels of the drawing buffer a pixel of the page. */
  readonly ratio: number;
}

/** Pictures that stay on the graphics side: those that are painted now, and some that come again at once. */
const MOST_TEXTURES = 8;

interface Texture {
  readonly texture: WebGLTexture;
  readonly pixels: LoadedPixels;
}

/** Half floats by their channels: how they are stored, and how they come. */
const HALVES = {
  1: ["R16F", "RED"],
  2: ["RG16F", "RG"],
  3: ["RGB16F", "RGB"],
  4: ["RGBA16F", "RGBA"],
} as const;

/** A program for one variant, with where its uniforms are. */
interface Program {
  readonly program: WebGLProgram;
  readonly at: (name: string) => WebGLUniformLocation | null;
}

function compiled(gl: WebGL2RenderingContext, type: number, source: string): WebGLShader {
  const shader = gl.createShader(type);
  if (shader === null) throw new Error("The graphics give no shader.");
  gl.shaderSource(shader, source);
  gl.compileShader(shader);
  if (gl.getShaderParameter(shader, gl.COMPILE_STATUS) !== true && !gl.isContextLost())
    throw new Error(gl.getShaderInfoLog(shader) ?? "The shader does not compile.");
  return shader;
}

function linked(gl: WebGL2RenderingContext, variant: Variant): Program {
  const program = gl.createProgram();
  gl.attachShader(program, compiled(gl, gl.VERTEX_SHADER, VERTEX));
  gl.attachShader(program, compiled(gl, gl.FRAGMENT_SHADER, fragmentOf(variant)));
  gl.linkProgram(program);
  if (gl.getProgramParameter(program, gl.LINK_STATUS) !== true && !gl.isContextLost())
    throw new Error(gl.getProgramInfoLog(program) ?? "The shader does not link.");
  const places = new Map<string, WebGLUniformLocation | null>();
  return {
    program,
    at: (name) => {
      if (!places.has(name)) places.set(name, gl.getUniformLocation(program, name));
      return places.get(name)!;
    },
  };
}

/** Of the texture: what a browser decodes has four. */
const channelsOf = (pixels: LoadedPixels): TextureReading["channels"] =>
  pixels.kind === "bytes" ? 4 : pixels.channels;

const readingOf = (painted: Painted | null, place: Rectangle): TextureReading | null =>
  painted === null
    ? null
    : {
        channels: channelsOf(painted.pixels),
        view: painted.view,
        alpha: painted.alpha,
        taps: tapsFor(painted.pixels.width / place.width),
      };

/** Of two rectangles; null where they do not meet. */
function overlap(one: Rectangle, other: Rectangle): Rectangle | null {
  const left = Math.max(one.left, other.left);
  const top = Math.max(one.top, other.top);
  const width = Math.min(one.left + one.width, other.left + other.width) - left;
  const height = Math.min(one.top + one.height, other.top + other.height) - top;
  return width > 0 && height > 0 ? { left, top, width, height } : null;
}

export class Painter {
  readonly #canvas: HTMLCanvasElement;
  readonly #gl: WebGL2RenderingContext;
  readonly #stop = new AbortController();
  /** By variant. */
  readonly #programs = new Map<string, Program>();
  /** The newest use last. */
  readonly #textures = new Map<LoadedPixels, Texture>();
  #painting: Painting | null = null;

  /** @param onLost with true when the graphics went away, with false when they are back and painted */
  private constructor(
    canvas: HTMLCanvasElement,
    gl: WebGL2RenderingContext,
    onLost: (isLost: boolean) => void,
  ) {
    this.#canvas = canvas;
    this.#gl = gl;
    const { signal } = this.#stop;
    canvas.addEventListener(
      "webglcontextlost",
      (event) => {
        // It comes back only to those who say that they wait for it.
        event.preventDefault();
        this.#textures.clear();
        this.#programs.clear();
        onLost(true);
      },
      { signal },
    );
    canvas.addEventListener(
      "webglcontextrestored",
      () => {
        this.#begin();
        onLost(false);
        if (this.#painting !== null) this.paint(this.#painting);
      },
      { signal },
    );
    this.#begin();
  }

  /** Null where the browser has no WebGL2. */
  static open(canvas: HTMLCanvasElement, onLost: (isLost: boolean) => void): Painter | null {
    const gl = canvas.getContext("webgl2", {
      alpha: false,
      antialias: false,
      depth: false,
      // What is on show may be saved, and is read by tests.
      preserveDrawingBuffer: true,
    });
    return gl === null ? null : new Painter(canvas, gl, onLost);
  }

  #begin(): void {
    const gl = this.#gl;
    if (gl.isContextLost()) return;
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    gl.pixelStorei(gl.UNPACK_COLORSPACE_CONVERSION_WEBGL, gl.NONE);
    gl.bindVertexArray(gl.createVertexArray());
  }

  /** The graphics went away, and may come back. */
  get isLost(): boolean {
    return this.#gl.isContextLost();
  }

  paint(painting: Painting): void {
    const gl = this.#gl;
    this.#painting = painting;
    if (gl.isContextLost()) return;
    const canvas = this.#canvas;
    if (canvas.width !== painting.width || canvas.height !== painting.height) {
      canvas.width = painting.width;
      canvas.height = painting.height;
    }
    gl.clearColor(...painting.surround, 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
    for (const pane of painting.panes) this.#paintPane(painting, pane);
    this.#letGo(painting);
  }

  /** The picture's own rectangle alone: what is beside it was cleared. */
  #paintPane(painting: Painting, { part, place, a, b, c, meeting }: Pane): void {
    const gl = this.#gl;
    const { height, look, wipe, behind } = painting;
    // On whole pixels, beyond the last one that the picture touches.
    const onScreen = {
      left: part.left + place.left,
      top: part.top + place.top,
      width: Math.ceil(place.width - 1e-6),
      height: Math.ceil(place.height - 1e-6),
    };
    const seen = overlap(part, onScreen);
    if (seen === null || (a === null && b === null)) return;
    const { at, program } = this.#programOf({
      meeting,
      a: readingOf(a, place),
      b: readingOf(b, place),
      c: readingOf(c, place),
      channel: look.channel,
      background: look.background === "picture" && behind === null ? "checker" : look.background,
      hasGamma: look.gamma !== 1,
      hasGrid: painting.hasGrid,
    });
    gl.useProgram(program);
    gl.viewport(seen.left, height - seen.top - seen.height, seen.width, seen.height);
    const { wholeWidth, wholeHeight } = (a ?? b)!.pixels;
    gl.uniform1f(at("uGainA"), 2 ** look.stops);
    gl.uniform1f(at("uGamma"), look.gamma);
    gl.uniform1f(at("uGain"), painting.gain);
    gl.uniform3f(at("uSurround"), ...painting.surround);
    gl.uniform3f(at("uBackdrop"), ...look.backdrop);
    gl.uniform1f(at("uRatio"), painting.ratio);
    gl.uniform2f(at("uCorner"), part.left, part.top);
    gl.uniform1f(at("uHeight"), height);
    gl.uniform4f(at("uPlace"), place.left, place.top, place.width, place.height);
    gl.uniform3f(
      at("uWipe"),
      place.left + wipe.x * place.width,
      place.top + wipe.y * place.height,
      (wipe.degrees * Math.PI) / 180,
    );
    gl.uniform1f(at("uPixelScale"), place.width / wholeWidth);
    gl.uniform2f(at("uWhole"), wholeWidth, wholeHeight);
    this.#bind(at, 0, "A", a);
    this.#bind(at, 1, "B", b);
    this.#bind(at, 2, "C", c);
    if (look.background === "picture" && behind !== null) {
      this.#use(at, 3, "uBehind", behind);
      const { x, y } = coverOf(place, behind);
      gl.uniform2f(at("uCover"), x, y);
    }
    gl.drawArrays(gl.TRIANGLES, 0, 3);
  }

  #programOf(variant: Variant): Program {
    const key = JSON.stringify(variant);
    const known = this.#programs.get(key) ?? linked(this.#gl, variant);
    this.#programs.set(key, known);
    return known;
  }

  #bind(at: Program["at"], unit: 0 | 1 | 2, name: "A" | "B" | "C", painted: Painted | null): void {
    if (painted === null) return;
    this.#use(at, unit, `uPicture${name}`, painted.pixels);
    this.#gl.uniform2f(at(`uSize${name}`), painted.pixels.width, painted.pixels.height);
  }

  #use(at: Program["at"], unit: number, name: string, pixels: LoadedPixels): void {
    const gl = this.#gl;
    gl.uniform1i(at(name), unit);
    gl.activeTexture(gl.TEXTURE0 + unit);
    gl.bindTexture(gl.TEXTURE_2D, this.#textureOf(pixels));
  }

  #textureOf(pixels: LoadedPixels): WebGLTexture {
    const known = this.#textures.get(pixels);
    if (known !== undefined) {
      this.#textures.delete(pixels);
      this.#textures.set(pixels, known);
      return known.texture;
    }
    const gl = this.#gl;
    const texture = gl.createTexture();
    gl.bindTexture(gl.TEXTURE_2D, texture);
    for (const side of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T])
      gl.texParameteri(gl.TEXTURE_2D, side, gl.CLAMP_TO_EDGE);
    for (const way of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
      gl.texParameteri(gl.TEXTURE_2D, way, gl.LINEAR);
    if (pixels.kind === "bytes")
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, gl.RGBA, gl.UNSIGNED_BYTE, pixels.bitmap);
    else {
      const [kept, given] = HALVES[pixels.channels];
      const { width, height, data } = pixels;
      gl.texImage2D(gl.TEXTURE_2D, 0, gl[kept], width, height, 0, gl[given], gl.HALF_FLOAT, data);
    }
    this.#textures.set(pixels, { texture, pixels });
    return texture;
  }

  /** The oldest go, never one that is on show. */
  #letGo({ panes, behind }: Painting): void {
    const onShow = new Set([behind, ...panes.flatMap(({ a, b, c }) => [a?.pixels, b?.pixels, c?.pixels])]);
    for (const [pixels, { texture }] of this.#textures) {
      if (this.#textures.size <= MOST_TEXTURES) return;
      if (onShow.has(pixels)) continue;
      this.#gl.deleteTexture(texture);
      this.#textures.delete(pixels);
    }
  }

  /**
   * Numbers of a rectangle of a picture of bytes as they lie in the file: red, green, blue, alpha, rows from the top.
   * Null while the graphics are away.
   */
  readBytes(
    pixels: LoadedPixels,
    {
      x,
      y,
      width,
      height,
    }: { readonly x: number; readonly y: number; readonly width: number; readonly height: number },
  ): Uint8Array | null {
    const gl = this.#gl;
    if (gl.isContextLost()) return null;
    const frame = gl.createFramebuffer();
    gl.activeTexture(gl.TEXTURE0);
    const texture = this.#textureOf(pixels);
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
    const out = new Uint8Array(width * height * 4);
    gl.readPixels(x, y, width, height, gl.RGBA, gl.UNSIGNED_BYTE, out);
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    gl.deleteFramebuffer(frame);
    return out;
  }

  /** Gives textures and listeners back. */
  close(): void {
    this.#stop.abort();
    for (const { texture } of this.#textures.values()) this.#gl.deleteTexture(texture);
    this.#textures.clear();
    for (const { program } of this.#programs.values()) this.#gl.deleteProgram(program);
    this.#programs.clear();
  }
}
