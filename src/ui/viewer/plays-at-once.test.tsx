import { act, renderHook } from "@testing-library/react";
import { usePlayer } from "./use-player";

test("a stretch that is opened to be played plays; a frame that is opened stands", () => {
  const range = { first: 0, last: 9 };
  const open = (isPlaying: boolean) =>
    renderHook(() => usePlayer(0, range, 24, isPlaying, () => true)).result;
  expect(open(false).current.direction).toBe(0);
  const playing = open(true);
  expect(playing.current.direction).toBe(1);
  act(() => playing.current.stop());
  expect(playing.current.direction).toBe(0);
});
