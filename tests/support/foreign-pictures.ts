/**
 * Picture files that are not ours, written by public programs in every depth and compression that they offer. Each has
 * its size in pixels; what a reader says of it can be held against the program that wrote it.
 */
import { execFile } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { promisify } from "node:util";
import sharp, { type Sharp } from "sharp";

const run = promisify(execFile);

/** Odd sizes: no block, tile, unit or byte of bits ends with the picture. */
export const [WIDTH, HEIGHT] = [83, 61];

export interface ForeignPicture {
  /** Of the file, with what it is. */
  readonly name: string;
  readonly program: "ImageMagick" | "ffmpeg" | "sharp" | "tiffcp" | "exrmaketiled" | "exrmultipart";
}

/** A picture with grain, flat stretches and edges, so that no compression has it easy and none has nothing to do. */
async function source(folder: string): Promise<string> {
  const data = new Uint8Array(WIDTH * HEIGHT * 4);
  let state = 4_711;
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 4) {
      state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
      const grain = x > 40 && y > 30 ? state >>> 26 : 0;
      data[i] = Math.min(255, x * 2 + grain);
      data[i + 1] = (y * 4 + grain) & 255;
      data[i + 2] = (x ^ y) & 32 ? 220 : 30 + grain;
      data[i + 3] = y < 10 ? 0 : y < 30 ? x : 255;
    }
  const file = path.join(folder, "source.png");
  await sharp(data, { raw: { width: WIDTH, height: HEIGHT, channels: 4 } })
    .png()
    .toFile(file);
  return file;
}

/** Arguments of ImageMagick between source and result, by name of the file. */
const MAGICK: Readonly<Record<string, string>> = {
  "grey1.png": "-colorspace gray -alpha off -monochrome -define png:bit-depth=1 -define png:color-type=0",
  "grey2.png": "-colorspace gray -alpha off -define png:bit-depth=2 -define png:color-type=0",
  "grey4.png": "-colorspace gray -alpha off -define png:bit-depth=4 -define png:color-type=0",
  "grey16.png": "-colorspace gray -alpha off -depth 16 -define png:color-type=0",
  "grey-alpha8.png": "-colorspace gray -define png:color-type=4",
  "table.png": "-alpha off -colors 16 -define png:color-type=3",
  "table-alpha.png": "-colors 200 -define png:color-type=3",
  "rgb16.png": "-alpha off -depth 16 -define png:color-type=2",
  "rgba16.png": "-depth 16 -define png:color-type=6",
  "interlaced.png": "-interlace PNG",
  "baseline.jpg": "-alpha off -quality 92",
  "progressive.jpg": "-alpha off -interlace JPEG -quality 80",
  "progressive-444.jpg": "-alpha off -interlace JPEG -sampling-factor 1x1 -quality 100",
  "grey.jpg": "-alpha off -colorspace gray",
  "grey-progressive.jpg": "-alpha off -colorspace gray -interlace JPEG",
  "cmyk.jpg": "-alpha off -colorspace CMYK",
  "cmyk-progressive.jpg": "-alpha off -colorspace CMYK -interlace JPEG",
  "sampling-420.jpg": "-alpha off -sampling-factor 2x2",
  "sampling-422.jpg": "-alpha off -sampling-factor 2x1",
  "sampling-440.jpg": "-alpha off -sampling-factor 1x2",
  "sampling-411.jpg": "-alpha off -sampling-factor 4x1",
  "quality-1.jpg": "-alpha off -quality 1",
  "arithmetic.jpg": "-alpha off -define jpeg:arithmetic-coding=true",
  "fixed-tables.jpg": "-alpha off -define jpeg:optimize-coding=false",
  "none8.tif": "-compress None",
  "none16.tif": "-compress None -depth 16",
  "none1.tif": "-alpha off -compress None -monochrome",
  "none4.tif": "-alpha off -compress None -colors 16 -depth 4",
  "float32.tif": "-compress None -depth 32 -define quantum:format=floating-point",
  "float64.tif": "-compress Zip -depth 64 -define quantum:format=floating-point",
  "lzw.tif": "-compress LZW",
  "lzw16.tif": "-compress LZW -depth 16",
  "zip.tif": "-compress Zip",
  "zip-float.tif": "-compress Zip -depth 32 -define quantum:format=floating-point",
  "runs.tif": "-compress RLE",
  "jpeg.tif": "-alpha off -compress JPEG",
  "fax4.tif": "-alpha off -monochrome -compress Group4",
  "fax3.tif": "-alpha off -monochrome -compress Fax",
  "lzma.tif": "-compress LZMA",
  "zstd.tif": "-compress ZSTD",
  "webp.tif": "-compress WebP",
  "planes.tif": "-compress Zip -interlace plane",
  "tiles.tif": "-compress Zip -define tiff:tile-geometry=64x32",
  "tiles-none.tif": "-compress None -define tiff:tile-geometry=64x32",
  "rows.tif": "-compress LZW -define tiff:rows-per-strip=3",
  "cmyk.tif": "-alpha off -colorspace CMYK -compress Zip",
  "lab.tif": "-alpha off -colorspace Lab -compress Zip",
  "grey16.tif": "-alpha off -colorspace gray -depth 16 -compress LZW",
  "table.tif": "-alpha off -colors 32 -type palette -compress RLE",
  "big-endian.tif": "-compress None -depth 16 -define tiff:endian=msb",
  "premultiplied.tif": "-compress Zip -define tiff:alpha=associated",
  "v2.bmp": "BMP2:",
  "v3.bmp": "-alpha off BMP3:",
  "v4.bmp": "BMP:",
  "bits1.bmp": "-alpha off -monochrome BMP3:",
  "bits4.bmp": "-alpha off -colors 16 -depth 4 BMP3:",
  "bits8.bmp": "-alpha off -colors 200 BMP3:",
  "runs8.bmp": "-alpha off -colors 64 -compress RLE BMP3:",
  "rgb565.bmp": "-alpha off -define bmp:subtype=RGB565",
  "rgb555.bmp": "-alpha off -define bmp:subtype=RGB555",
  "argb4444.bmp": "-define bmp:subtype=ARGB4444",
  "runs.hdr": "-alpha off -colorspace RGB",
  "lossy.webp": "-alpha off -quality 70",
  "lossy-alpha.webp": "-quality 70",
  "lossless.webp": "-define webp:lossless=true",
  "plain.tga": "-compress None",
  "runs.tga": "-compress RLE",
  "grey.tga": "-alpha off -colorspace gray -compress None",
  "grey-runs.tga": "-alpha off -colorspace gray -compress RLE",
  "table.tga": "-alpha off -colors 32 -type palette",
  "rgb24.tga": "-alpha off -compress None",
  "depth8.dpx": "-alpha off -depth 8",
  "depth10.dpx": "-alpha off -depth 10",
  "depth12.dpx": "-alpha off -depth 12",
  "depth16.dpx": "-alpha off -depth 16",
  "alpha16.dpx": "-depth 16",
  "grey10.dpx": "-alpha off -colorspace gray -depth 10",
};

/** Arguments of ffmpeg, by name of the file. */
const FFMPEG: Readonly<Record<string, string>> = {
  "f-rgb24.png": "-pix_fmt rgb24",
  "f-rgba64.png": "-pix_fmt rgba64be",
  "f-grey.png": "-pix_fmt gray",
  "f-420.jpg": "-pix_fmt yuvj420p -q:v 2",
  "f-444.jpg": "-pix_fmt yuvj444p -q:v 5",
  "f-tables.jpg": "-pix_fmt yuvj422p -huffman default",
  "f-raw.tif": "-compression_algo raw -pix_fmt rgb24",
  "f-raw48.tif": "-compression_algo raw -pix_fmt rgb48le",
  "f-runs.tif": "-compression_algo packbits",
  "f-lzw.tif": "-compression_algo lzw -pix_fmt rgba",
  "f-deflate.tif": "-compression_algo deflate -pix_fmt gray16le",
  "f-ycbcr.tif": "-compression_algo raw -pix_fmt yuv420p",
  "f-ycbcr422.tif": "-compression_algo deflate -pix_fmt yuv422p",
  "f-24.bmp": "-pix_fmt bgr24",
  "f-32.bmp": "-pix_fmt bgra",
  "f-8.bmp": "-pix_fmt gray",
  "f-565.bmp": "-pix_fmt rgb565le",
  "f-runs.tga": "-pix_fmt bgr24",
  "f-plain.tga": "-rle 0 -pix_fmt bgra",
  "f-grey.tga": "-pix_fmt gray",
  "f-555.tga": "-pix_fmt rgb555le",
  "f-10.dpx": "-pix_fmt gbrp10be",
  "f-12.dpx": "-pix_fmt gbrp12be",
  "f-16.dpx": "-pix_fmt rgb48be",
  "f-grey8.dpx": "-pix_fmt gray",
  "f-none.exr": "-compression none -format float -pix_fmt gbrapf32le",
  "f-rle.exr": "-compression rle -format half -pix_fmt gbrpf32le",
  "f-zip1.exr": "-compression zip1 -format half -pix_fmt gbrpf32le",
  "f-zip16.exr": "-compression zip16 -format float -pix_fmt gbrpf32le",
  "f.webp": "-lossless 1",
};

const TIFFCP: Readonly<Record<string, string>> = {
  "c-none.tif": "-c none",
  "c-lzw2.tif": "-c lzw:2",
  "c-zip2.tif": "-c zip:2",
  "c-runs.tif": "-c packbits -r 5",
  "c-lzma.tif": "-c lzma",
  "c-zstd.tif": "-c zstd",
  "c-lerc.tif": "-c lerc",
  "c-tiles.tif": "-t -w 48 -l 32 -c lzw",
  "c-tile-planes.tif": "-t -w 64 -l 64 -p separate -c zip",
  "c-planes.tif": "-p separate -c lzw",
  "c-big.tif": "-8 -c zip",
  "c-big-msb.tif": "-8 -B -c none",
  "c-msb.tif": "-B -c lzw",
};

const EXR_COMPRESSIONS = ["none", "rle", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"];
/** As ImageMagick calls them. */
const EXR_WORDS = ["None", "RLE", "ZIPS", "Zip", "Piz", "Pxr24", "B44", "B44A", "DWAA", "DWAB"];

const SHARP: Readonly<Record<string, (image: Sharp) => Sharp>> = {
  "s-mozjpeg.jpg": (s) => s.jpeg({ mozjpeg: true }),
  "s-444.jpg": (s) => s.jpeg({ progressive: true, chromaSubsampling: "4:4:4", quality: 98 }),
  "s-table.png": (s) => s.png({ palette: true }),
  "s-adaptive.png": (s) => s.png({ progressive: true, adaptiveFiltering: true }),
  "s-jpeg.tif": (s) => s.removeAlpha().tiff({ compression: "jpeg" }),
  "s-deflate-tile.tif": (s) => s.tiff({ compression: "deflate", tile: true, predictor: "horizontal" }),
  "s-pyramid.tif": (s) =>
    s.tiff({ compression: "lzw", tile: true, pyramid: true, tileWidth: 64, tileHeight: 64 }),
  "s-fax.tif": (s) => s.greyscale().removeAlpha().tiff({ compression: "ccittfax4", bitdepth: 1 }),
  "s-2bit.tif": (s) => s.greyscale().removeAlpha().tiff({ compression: "none", bitdepth: 2 }),
  "s-zstd.tif": (s) => s.tiff({ compression: "zstd" }),
  "s-float.tif": (s) =>
    s.removeAlpha().toColourspace("scrgb").tiff({ compression: "deflate", predictor: "float" }),
  "s-lossy.webp": (s) => s.webp({ quality: 60 }),
  "s-near.webp": (s) => s.webp({ nearLossless: true }),
};

/**
 * Writes all of them into a folder. A program may lack a codec on this machine: what could not be written is told.
 */
export async function writeForeignPictures(
  folder: string,
): Promise<{ readonly written: readonly ForeignPicture[]; readonly refused: readonly string[] }> {
  await fs.mkdir(folder, { recursive: true });
  const from = await source(folder);
  const written: ForeignPicture[] = [];
  const refused: string[] = [];
  const write = async (
    name: string,
    program: ForeignPicture["program"],
    make: (file: string) => Promise<unknown>,
  ): Promise<void> => {
    const file = path.join(folder, name);
    try {
      await make(file);
      written.push({ name, program });
    } catch (error) {
      await fs.rm(file, { force: true });
      refused.push(`${name}: ${String((error as { stderr?: string }).stderr ?? error).slice(0, 200)}`);
    }
  };
  const words = (text: string): string[] => text.split(" ").filter((word) => word !== "");
  for (const [name, given] of Object.entries(MAGICK)) {
    const prefix = /(\S+:)$/.exec(given)?.[1] ?? "";
    const options = words(prefix === "" ? given : given.slice(0, -prefix.length));
    await write(name, "ImageMagick", (file) => run("convert", [from, ...options, `${prefix}${file}`]));
  }
  for (const word of EXR_WORDS)
    await write(`i-${word.toLowerCase()}.exr`, "ImageMagick", (file) =>
      run("convert", [from, "-colorspace", "RGB", "-compress", word, file]),
    );
  for (const [name, options] of Object.entries(FFMPEG))
    await write(name, "ffmpeg", (file) =>
      run("ffmpeg", ["-v", "error", "-y", "-i", from, ...words(options), "-frames:v", "1", file]),
    );
  for (const [name, options] of Object.entries(TIFFCP))
    await write(name, "tiffcp", (file) =>
      run("tiffcp", [...words(options), path.join(folder, "none8.tif"), file]),
    );
  for (const compression of EXR_COMPRESSIONS)
    for (const levels of ["o", "m", "r"])
      await write(`t-${compression}-${levels}.exr`, "exrmaketiled", (file) =>
        run("exrmaketiled", [
          ...[`-${levels}`, "-t", "48", "32", "-z", compression, ...(levels === "m" ? ["-u"] : [])],
          ...[path.join(folder, "f-zip16.exr"), file],
        ]),
      );
  await write("parts.exr", "exrmultipart", (file) =>
    run("exrmultipart", [
      ...["-combine", "-i", path.join(folder, "f-rle.exr::one"), path.join(folder, "t-piz-m.exr::two")],
      ...["-o", file],
    ]),
  );
  for (const [name, encode] of Object.entries(SHARP))
    await write(name, "sharp", (file) => encode(sharp(from)).toFile(file));
  return { written, refused };
}
