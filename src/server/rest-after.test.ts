import { restAfter } from "./rest-after";

test("looks take a twentieth of the time", () => expect(restAfter(50)).toBe(1000));

test("looks that take long on a slow share do not leave a page an hour behind", () =>
  expect(restAfter(180_000)).toBe(60_000));
