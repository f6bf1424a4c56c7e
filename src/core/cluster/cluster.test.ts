import { formatPhrase, parsePhrase } from "../frames/phrase";
import { type FrameSet, members, rangeSet, setOf, shifted, unionAll } from "../frames/frame-set";
import { arrayChunks } from "./array-chunks";
import { readIndices, readListing } from "./array-listing";
import { endOfTask } from "./task-end";

const setOfPhrase = (phrase: string): FrameSet => {
  const read = parsePhrase(phrase);
  if (!read.ok) throw new Error(read.error.message);
  return read.set;
};

describe("arrays of frames", () => {
  it("are exactly the frames, by their own numbers", () => {
    expect(arrayChunks(setOfPhrase("55-57,77,90-96/2"), 1000)).toEqual([
      { frames: setOfPhrase("55-57,77,90-96/2"), shift: 0, indices: "55-57,77,90-96:2" },
    ]);
  });

  it("are several where an array may not be so large, from 1 on", () => {
    const chunks = arrayChunks(rangeSet(1, 25_000), 10_000);
    expect(chunks.map((c) => [c.shift, c.indices])).toEqual([
      [0, "1-10000"],
      [10_000, "1-10000"],
      [20_000, "1-5000"],
    ]);
  });

  it("take frames below zero and far above what an index may be", () => {
    expect(arrayChunks(setOf([-5, -4, 3]), 100).map((c) => [c.shift, c.indices])).toEqual([[-6, "1-2,9"]]);
    expect(arrayChunks(setOf([100_000, 100_001]), 100).map((c) => [c.shift, c.indices])).toEqual([
      [99_999, "1-2"],
    ]);
  });

  it("are cut where their indices would be longer than is taken, and lose no frame", () => {
    const scattered = setOf(
      Array.from({ length: 5_000 }, (_, i) => Math.floor(i * 2.5) + (i % 7 === 0 ? 1 : 0)),
    );
    const chunks = arrayChunks(scattered, 20_000);
    expect(chunks.length).toBeGreaterThan(1);
    for (const { indices, frames, shift } of chunks) {
      expect(indices.length).toBeLessThanOrEqual(4_000);
      expect(shifted(readIndices(indices)!, shift)).toEqual(frames);
    }
    expect(unionAll(chunks.map((c) => c.frames))).toEqual(scattered);
    expect(chunks.reduce((sum, c) => sum + c.frames.count, 0)).toBe(scattered.count);
  });
});

describe("what the batch system lists", () => {
  it("is read with the lots that wait together, and other jobs are left out", () => {
    const lines = readListing(
      [
        "10_2|tally-4|RUNNING|None|lamp-1|0",
        "10_[3-9,20-30:2%4]|tally-4|PENDING|Resources||200",
        "11_[1-3]|tally-4|PENDING|JobHeldUser||0",
        "12|tally-4|RUNNING|None|lamp-2|0",
        "13_7|tally-4|TIMEOUT|TimeLimit|lamp-1|0",
        "13_[x]|tally-4|PENDING|None||0",
        "",
      ].join("\n"),
    );
    expect(lines.map((l) => [l.job, formatPhrase(l.indices), l.phase, l.reason, l.machine, l.nice])).toEqual([
      [10, "2", "works", null, "lamp-1", 0],
      [10, "3-9,20-30/2", "waits", "Resources", null, 200],
      [11, "1-3", "held", "JobHeldUser", null, 0],
      [13, "7", "over", "TimeLimit", "lamp-1", 0],
    ]);
  });

  it("never becomes more indices than there can be", () => {
    expect(readIndices("1-9999999")).toBeNull();
    expect(readIndices("5-1")).toBeNull();
    expect(readIndices("1-9:0")).toBeNull();
    expect([...members(readIndices("0-4:2")!)]).toEqual([0, 2, 4]);
  });
});

describe("why a task ended", () => {
  it.each([
    ["TIMEOUT", "", "time"],
    ["OUT_OF_MEMORY", "", "memory"],
    ["NODE_FAIL", "", "node"],
    ["FAILED", "slurmstepd-lamp-1: error: Exceeded job memory limit", "memory"],
    [
      "PENDING",
      "slurmstepd-lamp-1: error: *** JOB 14 ON lamp-1 CANCELLED AT 2026-12-01T08:47:46 DUE TO PREEMPTION ***",
      "preempted",
    ],
    ["RUNNING", "*** JOB 18 ON lamp-1 CANCELLED AT 2026-12-01T08:49:46 DUE TO TIME LIMIT ***", "time"],
    ["CANCELLED", "*** JOB 14 ON lamp-1 CANCELLED AT 2026-12-01T08:47:46 ***", null],
    ["COMPLETED", "", null],
  ])("%s, %s", (state, said, why) => {
    expect(endOfTask(state, said)).toBe(why);
  });
});
