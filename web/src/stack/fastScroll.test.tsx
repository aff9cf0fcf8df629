import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useFastScroll } from "./useFastScroll";

describe("a list that rushes past", () => {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "performance"] });
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  function scrolling() {
    const view = document.createElement("div");
    const { result } = renderHook(() => useFastScroll({ current: view }));
    const by = (pixels: number, millis: number) =>
      act(() => {
        vi.advanceTimersByTime(millis);
        view.scrollTop += pixels;
        view.dispatchEvent(new Event("scroll"));
      });
    return { result, by };
  }

  it("is told from one that is read, and from a jump", () => {
    const { result, by } = scrolling();
    for (let frame = 0; frame < 5; frame++) by(40, 16);
    expect(result.current).toBe(false);
    by(500_000, 1000);
    by(0, 16);
    expect(result.current).toBe(false);
    for (let frame = 0; frame < 3; frame++) by(180, 16);
    expect(result.current).toBe(true);
  });

  it("is at rest again soon after it stands still", () => {
    const { result, by } = scrolling();
    for (let frame = 0; frame < 4; frame++) by(180, 16);
    expect(result.current).toBe(true);
    act(() => {
      vi.advanceTimersByTime(119);
    });
    expect(result.current).toBe(true);
    act(() => {
      vi.advanceTimersByTime(1);
    });
    expect(result.current).toBe(false);
  });
});
