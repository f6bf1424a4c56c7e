import { hashKey, isKeyOf, makeKey } from "./access-key";

test("keys are long, can be read out, and no two are alike", () => {
  const keys = new Set(Array.from({ length: 200 }, makeKey));
  expect(keys.size).toBe(200);
  for (const key of keys) expect(key).toMatch(/^([0-9a-hjkmnp-tv-z]{5}-){3}[0-9a-hjkmnp-tv-z]{5}$/);
});

test("a key is known by its hash, which holds nothing of it; the same key is never kept alike", async () => {
  const [first, second] = [await hashKey("k7m2p-00000"), await hashKey("k7m2p-00000")];
  expect(first).not.toContain("k7m2p");
  expect(first).not.toBe(second);
  expect(await isKeyOf("k7m2p-00000", first)).toBe(true);
  expect(await isKeyOf("k7m2p-00001", first)).toBe(false);
});

test("no key is that of nobody", async () => {
  expect(await isKeyOf("", null)).toBe(false);
  expect(await isKeyOf("k7m2p-00000", null)).toBe(false);
});
