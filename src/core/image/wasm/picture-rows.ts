/**
 * The loops of `measure-picture.ts` that see every pixel of every frame, in AssemblyScript: TypeScript that becomes
 * WebAssembly, four pixels at a time. `npm run wasm` makes `../picture-rows-wasm.ts` of it, and a test holds it to that.
 *
 * Whoever calls lays out the memory (`../picture-rows.ts`): rows of luminance are 32-bit floats, 0 to 1, and all rows have
 * 16 bytes behind them that may be read.
 */

// Of the picture so far, in pixels.
export let black: i32 = 0;
export let clipped: i32 = 0;
/** A luminance of the picture: sums of what others differ from it by are small, and lose nothing in 32 bits. */
export let pivot: f32 = 0;
/** Sums of what luminances differ from it by, and of the squares of that. */
export let offsets: f64 = 0;
export let squares: f64 = 0;
/** Of the row that was looked at last. */
export let candidates: i32 = 0;

// What red, green and blue weigh in luminance (Rec. 709).
const RED: f64 = 0.2126;
const GREEN: f64 = 0.7152;
const BLUE: f64 = 0.0722;

/** Sums of one block of a row go to those of the rows above. */
function keepBlock(at: usize, reds: f64, greens: f64, blues: f64): void {
  store<f64>(at, load<f64>(at) + reds);
  store<f64>(at, load<f64>(at, 8) + greens, 8);
  store<f64>(at, load<f64>(at, 16) + blues, 16);
}

function lanes(v: v128): f64 {
  return (
    <f64>f32x4.extract_lane(v, 0) +
    <f64>f32x4.extract_lane(v, 1) +
    <f64>f32x4.extract_lane(v, 2) +
    <f64>f32x4.extract_lane(v, 3)
  );
}

function integerLanes(v: v128): f64 {
  return (
    <f64>i32x4.extract_lane(v, 0) +
    <f64>i32x4.extract_lane(v, 1) +
    <f64>i32x4.extract_lane(v, 2) +
    <f64>i32x4.extract_lane(v, 3)
  );
}

/**
 * One row of any kind, pixel by pixel. @param first values of the row @param stride values from pixel to pixel
 * @param green values behind red @param edges where each block begins, and where the last ends, in pixels
 * @param luminance is filled @param sums of red, green and blue of each block, are added to
 */
function addPixels<T>(
  first: usize,
  stride: i32,
  green: i32,
  blue: i32,
  white: f64,
  columns: i32,
  edges: usize,
  luminance: usize,
  sums: usize,
): void {
  for (let column = 0; column < columns; column++) {
    const end = load<i32>(edges + (column << 2), 4);
    let reds: f64 = 0;
    let greens: f64 = 0;
    let blues: f64 = 0;
    for (let x = load<i32>(edges + (column << 2)); x < end; x++) {
      const at = first + <usize>(x * stride) * sizeof<T>();
      const r = <f64>load<T>(at);
      const g = <f64>load<T>(at + <usize>green * sizeof<T>());
      const b = <f64>load<T>(at + <usize>blue * sizeof<T>());
      reds += r;
      greens += g;
      blues += b;
      if (r == white || g == white || b == white) clipped++;
      else if (r + g + b == 0) black++;
      const l = (RED * r + GREEN * g + BLUE * b) / white;
      store<f32>(luminance + ((<usize>x) << 2), <f32>l);
      const offset = l - <f64>pivot;
      offsets += offset;
      squares += offset * offset;
    }
    keepBlock(sums + <usize>column * 24, reds, greens, blues);
  }
}

/** As `addPixels`, of 8 bits and three values a pixel, or four: four pixels at a time. */
function addFours(
  first: usize,
  stride: i32,
  columns: i32,
  edges: usize,
  luminance: usize,
  sums: usize,
): void {
  const none = i32x4.splat(0);
  const white = i32x4.splat(255);
  const weightOfRed = f32x4.splat(<f32>(RED / 255));
  const weightOfGreen = f32x4.splat(<f32>(GREEN / 255));
  const weightOfBlue = f32x4.splat(<f32>(BLUE / 255));
  const usual = f32x4.splat(pivot);
  for (let column = 0; column < columns; column++) {
    const end = load<i32>(edges + (column << 2), 4);
    let x = load<i32>(edges + (column << 2));
    let reds = none;
    let greens = none;
    let blues = none;
    let ofOffsets = f32x4.splat(0);
    let ofSquares = f32x4.splat(0);
    while (x < end) {
      // Behind the last pixels of a block those of the next stand, and are left out: lanes that count are all ones.
      const left = end - x;
      const counts = i32x4.gt_s(i32x4.splat(left), i32x4(0, 1, 2, 3));
      const bytes = v128.load(first + <usize>(x * stride));
      let r: v128;
      let g: v128;
      let b: v128;
      if (stride == 3) {
        r = v128.shuffle<u8>(bytes, none, 0, 16, 16, 16, 3, 16, 16, 16, 6, 16, 16, 16, 9, 16, 16, 16);
        g = v128.shuffle<u8>(bytes, none, 1, 16, 16, 16, 4, 16, 16, 16, 7, 16, 16, 16, 10, 16, 16, 16);
        b = v128.shuffle<u8>(bytes, none, 2, 16, 16, 16, 5, 16, 16, 16, 8, 16, 16, 16, 11, 16, 16, 16);
      } else {
        r = v128.and(bytes, white);
        g = v128.and(i32x4.shr_u(bytes, 8), white);
        b = v128.and(i32x4.shr_u(bytes, 16), white);
      }
      r = v128.and(r, counts);
      g = v128.and(g, counts);
      b = v128.and(b, counts);
      reds = i32x4.add(reds, r);
      greens = i32x4.add(greens, g);
      blues = i32x4.add(blues, b);
      const isClipped = v128.or(v128.or(i32x4.eq(r, white), i32x4.eq(g, white)), i32x4.eq(b, white));
      clipped += popcnt(i32x4.bitmask(isClipped));
      black += popcnt(i32x4.bitmask(v128.and(i32x4.eq(v128.or(v128.or(r, g), b), none), counts)));
      const l = f32x4.add(
        f32x4.add(
          f32x4.mul(f32x4.convert_i32x4_s(r), weightOfRed),
          f32x4.mul(f32x4.convert_i32x4_s(g), weightOfGreen),
        ),
        f32x4.mul(f32x4.convert_i32x4_s(b), weightOfBlue),
      );
      // What is written behind the end of the block is written again by the next.
      v128.store(luminance + ((<usize>x) << 2), l);
      const offset = v128.and(f32x4.sub(l, usual), counts);
      ofOffsets = f32x4.add(ofOffsets, offset);
      ofSquares = f32x4.add(ofSquares, f32x4.mul(offset, offset));
      x += 4;
    }
    offsets += lanes(ofOffsets);
    squares += lanes(ofSquares);
    keepBlock(sums + <usize>column * 24, integerLanes(reds), integerLanes(greens), integerLanes(blues));
  }
}

export function addBytes(
  first: usize,
  stride: i32,
  green: i32,
  blue: i32,
  columns: i32,
  edges: usize,
  luminance: usize,
  sums: usize,
): void {
  if (green == 0) addPixels<u8>(first, stride, green, blue, 255, columns, edges, luminance, sums);
  else addFours(first, stride, columns, edges, luminance, sums);
}

export function addWords(
  first: usize,
  stride: i32,
  green: i32,
  blue: i32,
  columns: i32,
  edges: usize,
  luminance: usize,
  sums: usize,
): void {
  addPixels<u16>(first, stride, green, blue, 65535, columns, edges, luminance, sums);
}

export function addFloats(
  first: usize,
  stride: i32,
  green: i32,
  blue: i32,
  columns: i32,
  edges: usize,
  luminance: usize,
  sums: usize,
): void {
  addPixels<f32>(first, stride, green, blue, 1, columns, edges, luminance, sums);
}

/**
 * Of the inner pixels of one row of luminance: the sum of what its two Laplacians differ by (`grainOfRow` in
 * `../measure.ts` says how), and which pixels are so far above one of those beside them that they may be hot.
 * @param scratch a row @param found is filled with places in the row, as many as `candidates` says
 */
export function look(
  above: usize,
  row: usize,
  below: usize,
  width: i32,
  hotStep: f32,
  scratch: usize,
  found: usize,
): f64 {
  candidates = 0;
  if (width < 3) return 0;
  const two = f32x4.splat(2);
  for (let x = 0; x < width; x += 4) {
    const at = (<usize>x) << 2;
    const own = f32x4.mul(v128.load(row + at), two);
    v128.store(scratch + at, f32x4.add(f32x4.sub(v128.load(above + at), own), v128.load(below + at)));
  }
  const step = f32x4.splat(hotStep);
  let sums = f32x4.splat(0);
  for (let x = 1; x < width - 1; x += 4) {
    const at = (<usize>x) << 2;
    const counts = i32x4.gt_s(i32x4.splat(width - 1 - x), i32x4(0, 1, 2, 3));
    const beside = f32x4.add(v128.load(scratch + at - 4), v128.load(scratch + at + 4));
    const grain = f32x4.abs(f32x4.sub(beside, f32x4.mul(v128.load(scratch + at), two)));
    sums = f32x4.add(sums, v128.and(grain, counts));
    const own = v128.load(row + at);
    const isFar = v128.or(
      f32x4.ge(f32x4.sub(own, v128.load(row + at - 4)), step),
      f32x4.ge(f32x4.sub(own, v128.load(row + at + 4)), step),
    );
    let far = i32x4.bitmask(v128.and(isFar, counts));
    while (far != 0) {
      store<i32>(found + ((<usize>candidates) << 2), x + ctz(far));
      candidates++;
      far &= far - 1;
    }
  }
  return lanes(sums);
}
