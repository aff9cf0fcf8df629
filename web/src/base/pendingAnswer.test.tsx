import { act, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { show, withServer } from "../testing";
import { PendingAnswer } from "./PendingAnswer";

withServer();

describe("waiting for an answer", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  it("says what for and, after a while, for how long, and can ask again", () => {
    const refetch = vi.fn();
    show(<PendingAnswer query={{ error: null, refetch }} what="who can use it" />);
    expect(screen.getByText(/Working out who can use it/)).toBeTruthy();
    expect(screen.queryByText("Ask again")).toBeNull();
    act(() => {
      vi.advanceTimersByTime(7_000);
    });
    expect(screen.getByText(/for 7 s/)).toBeTruthy();
    fireEvent.click(screen.getByText("Ask again"));
    expect(refetch).toHaveBeenCalledOnce();
  });

  it("tells an error instead of waiting for good", () => {
    const refetch = vi.fn();
    show(<PendingAnswer query={{ error: new Error("There is no zone."), refetch }} what="who can use it" />);
    expect(screen.getByRole("alert").textContent).toContain("There is no zone.");
    fireEvent.click(screen.getByText("Ask again"));
    expect(refetch).toHaveBeenCalledOnce();
  });
});
