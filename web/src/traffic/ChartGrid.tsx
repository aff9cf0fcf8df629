import type { ReactNode } from "react";

/** Charts beside each other; or one of them as wide as there is room, with the way back to all. */
export const ChartGrid = ({
  isWide,
  back,
  children,
}: {
  isWide: boolean;
  back: () => void;
  children: ReactNode;
}) => (
  <>
    {isWide && (
      <button type="button" className="press mb-2 text-xs" onClick={back}>
        Back to all charts
      </button>
    )}
    <div
      className={`grid gap-2 ${isWide ? "grid-cols-1" : "grid-cols-[repeat(auto-fill,minmax(240px,1fr))]"}`}
    >
      {children}
    </div>
  </>
);
