import { AWAY_SECONDS } from "../queue/takers";
import { LEASE_SECONDS } from "../queue/lease";
import { beatMs } from "./beat";

test("a few nodes hear within a second; a thousand ask no more often in all than a few dozen would", () => {
  expect(beatMs(1)).toBe(700);
  expect(beatMs(100)).toBe(700);
  for (const nodes of [200, 1_000]) expect(nodes / (beatMs(nodes) / 1000)).toBeLessThanOrEqual(201);
});

test("however many they are, a lease is renewed in time and nobody counts as away who works", () => {
  expect((beatMs(100_000) / 1000) * 4).toBeLessThan(LEASE_SECONDS);
  expect((beatMs(100_000) / 1000) * 2).toBeLessThan(AWAY_SECONDS);
});
