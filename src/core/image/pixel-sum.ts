/** A sum of a picture's pixels, by which equal pictures are found. */

const { imul } = Math;

/** Equal for equal bytes, and as good as never for others: two halves of 32 bits that mix differently (after FNV-1a). */
export function pixelSum(data: Uint8Array): string {
  const words = data.byteLength >> 2;
  const aligned =
    data.byteOffset % 4 === 0
      ? new Uint32Array(data.buffer, data.byteOffset, words)
      : new Uint32Array(data.slice(0, words * 4).buffer);
  let [a, b] = [0x811c9dc5, 0x9e3779b9];
  for (let i = 0; i < words; i++) {
    const word = aligned[i]!;
    a = imul(a ^ word, 0x01000193);
    a ^= a >>> 15;
    b = imul(b ^ word, 0x85ebca6b);
    b = (b << 13) | (b >>> 19);
  }
  for (const word of [...data.subarray(words * 4), data.byteLength]) {
    a = imul(a ^ word, 0x01000193);
    a ^= a >>> 15;
    b = imul(b ^ word, 0x85ebca6b);
    b = (b << 13) | (b >>> 19);
  }
  return [a, b].map((half) => (half >>> 0).toString(16).padStart(8, "0")).join("");
}
