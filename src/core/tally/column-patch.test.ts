import fc from "fast-check";
import { members, setOf } from "../frames/frame-set";
import { ColumnPatch } from "./column-patch";

const SEED = 20261128;
const frames = fc.array(fc.integer({ min: -5, max: 40 }), { maxLength: 30 }).map(setOf);

test("any frames known anew give the column that a whole reading gives", () => {
  fc.assert(
    fc.property(frames, frames, frames, (before, changed, found) => {
      const anew = setOf([...members(changed)].filter((f) => [...members(found)].includes(f)));
      const old = [...members(before)];
      const after = setOf([...old.filter((f) => ![...members(changed)].includes(f)), ...members(anew)]);
      const values = new ColumnPatch(before, changed, anew).apply(
        old.map((f) => `old ${f}`),
        [...members(anew)].map((f) => `new ${f}`),
      );
      expect(values).toEqual(
        [...members(after)].map((f) => ([...members(anew)].includes(f) ? `new ${f}` : `old ${f}`)),
      );
    }),
    { seed: SEED, numRuns: 300 },
  );
});
