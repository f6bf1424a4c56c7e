/** A WAV file (PCM, 16 bits, one channel): silence with clicks at the seconds that are given. */
const RATE = 8_000;

export function wavFile(seconds: number, clicks: readonly number[] = []): Buffer {
  const samples = Math.round(seconds * RATE);
  const data = Buffer.alloc(samples * 2);
  for (const at of clicks)
    for (let i = 0; i < 40; i++) data.writeInt16LE(30_000, (Math.round(at * RATE) + i) * 2);
  const head = Buffer.alloc(44);
  head.write("RIFF", 0);
  head.writeUInt32LE(36 + data.length, 4);
  head.write("WAVEfmt ", 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(RATE, 24);
  head.writeUInt32LE(RATE * 2, 28);
  head.writeUInt16LE(2, 32);
  head.writeUInt16LE(16, 34);
  head.write("data", 36);
  head.writeUInt32LE(data.length, 40);
  return Buffer.concat([head, data]);
}
