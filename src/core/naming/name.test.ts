import { isText, LONGEST_NAME, nameFault } from "./name";

test.each(["HL010", "main", "take 2", "über-blick", "quay-1", "v2.b", "灯台", "x".repeat(LONGEST_NAME)])(
  "%s is a name",
  (name) => expect(nameFault(name)).toBeNull(),
);

test.each([
  ["nothing", "", "blank"],
  ["blanks", "  ", "blank"],
  ["a blank at its end", "main ", "blank"],
  ["a separator", "a/b", "slash"],
  ["another system's separator", "a\\b", "slash"],
  ["the folder above", "..", "begins with a dot"],
  ["the folder above in its middle", "a..b", "two dots"],
  ["a hidden file", ".main", "begins with a dot"],
  ["an option of a program", "-rf", "minus"],
  ["the sign that ends texts", "a\0b", "half"],
  ["a line feed", "a\nb", "cannot be seen"],
  ["a sign that turns text around", "a\u202egnp.exe", "cannot be seen"],
  ["half a character", "a\ud800", "half"],
  ["a letter put together from parts", "u\u0308ber", "NFC"],
  ["more than a name is long", "x".repeat(LONGEST_NAME + 1), "longer"],
])("%s is told: %p", (_what, name, said) => expect(nameFault(name)).toContain(said));

test("a text may hold what a name may not, but no half sign", () => {
  expect(isText("a/b\n../c")).toBe(true);
  expect(isText("a\udc00")).toBe(false);
});
