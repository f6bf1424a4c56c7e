import { Readable } from "node:stream";
import { downloadsNow, MOST_DOWNLOADS, sendStream } from "./send-stream";

const endless = (): Readable =>
  new Readable({
    read() {
      this.push(Buffer.alloc(65_536));
    },
  });
const settled = async (count: number): Promise<void> => {
  while (downloadsNow() !== count) await new Promise((resolve) => setImmediate(resolve));
};

test("a file goes out whole, and its place is free again", async () => {
  const sent = await sendStream(
    () => Promise.resolve(Readable.from([Buffer.from("one "), Buffer.from("two")])),
    {
      "content-type": "text/plain",
    },
  );
  expect(downloadsNow()).toBe(1);
  expect(await sent.text()).toBe("one two");
  await settled(0);
});

test("only so many go out at once; one that the browser gives up makes room", async () => {
  const going = await Promise.all(
    Array.from({ length: MOST_DOWNLOADS }, () => sendStream(() => Promise.resolve(endless()), {})),
  );
  const open = jest.fn(() => Promise.resolve(endless()));
  await expect(sendStream(open, {})).rejects.toMatchObject({ code: "too-many-downloads" });
  expect(open).not.toHaveBeenCalled();
  await going[0]!.body!.cancel();
  await settled(MOST_DOWNLOADS - 1);
  const next = await sendStream(open, {});
  for (const { body } of [...going.slice(1), next]) await body!.cancel();
  await settled(0);
});

test("what cannot be opened, or breaks on the way, holds no place", async () => {
  await expect(sendStream(() => Promise.reject(new Error("gone")), {})).rejects.toThrow("gone");
  expect(downloadsNow()).toBe(0);
  const broken = new Readable({
    read() {
      this.destroy(new Error("the share is away"));
    },
  });
  const sent = await sendStream(() => Promise.resolve(broken), {});
  await expect(sent.text()).rejects.toThrow();
  await settled(0);
});
