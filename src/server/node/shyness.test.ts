import { Shyness } from "./shyness";

const RUN = 7;

test("one failure is no reason to pause; each further one in a row makes the pause longer, up to 20 s", () => {
  const shy = new Shyness();
  shy.failed(RUN, 1000, 0.5);
  expect(shy.isShy(RUN, 1000)).toBe(false);
  const pauses = Array.from({ length: 12 }, () => {
    shy.failed(RUN, 0, 0.5);
    let ms = 0;
    while (shy.isShy(RUN, ms)) ms += 50;
    return ms;
  });
  expect(pauses[0]).toBeGreaterThan(0);
  expect(pauses.every((ms, i) => i === 0 || ms >= pauses[i - 1]!)).toBe(true);
  expect(pauses.at(-1)).toBe(20_000);
  expect(shy.isShy(RUN + 1, 0)).toBe(false);
});

test("a frame that was made ends it, and so does a person who lets the node in again, once for each time", () => {
  const shy = new Shyness();
  const spoil = (): void => [1, 2, 3].forEach(() => shy.failed(RUN, 0, 0.5));
  spoil();
  shy.made(RUN);
  expect(shy.isShy(RUN, 1)).toBe(false);
  spoil();
  shy.forgive(1_790_000_000);
  expect(shy.isShy(RUN, 1)).toBe(false);
  spoil();
  shy.forgive(1_790_000_000);
  expect(shy.isShy(RUN, 1)).toBe(true);
});
