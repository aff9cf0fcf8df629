import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { answers, show, withServer } from "../testing";
import { ReviewStatus } from "./ReviewStatus";

withServer();

const session = (more: object) => ({
  id: "b",
  said: "moved rule 3",
  keeping: false,
  reviewing: false,
  reviewStopped: false,
  stopReview: vi.fn(),
  reviewAnew: vi.fn(),
  ...more,
});

describe("a review", () => {
  it("says what happened once it is done", () => {
    show(<ReviewStatus {...session({})} />);
    expect(screen.getByLabelText("What happened").textContent).toBe("moved rule 3");
    expect(screen.queryByText("Stop")).toBeNull();
  });

  it("waits for what was done last, and what was done is not kept yet", () => {
    show(<ReviewStatus {...session({ keeping: true })} />);
    expect(screen.getByText(/not kept yet/).className).toContain("late");
  });

  it("that takes long shows how far it is and can be stopped", async () => {
    answers["rulebases/b/review/progress"] = { done: 4200, total: 10000 };
    const going = session({ reviewing: true });
    show(<ReviewStatus {...going} />);
    await waitFor(() => expect(screen.getByRole("progressbar").textContent).toContain("4,200 of 10,000"));
    fireEvent.click(screen.getByText("Stop"));
    expect(going.stopReview).toHaveBeenCalledOnce();
  });

  it("that was stopped says so and can be asked for anew", () => {
    const stopped = session({ reviewStopped: true });
    show(<ReviewStatus {...stopped} />);
    fireEvent.click(screen.getByText("Review it"));
    expect(stopped.reviewAnew).toHaveBeenCalledOnce();
  });
});
