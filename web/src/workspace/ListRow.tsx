import type { ReactNode } from "react";

type Props = { isOpen: boolean; open: () => void; className?: string; children: ReactNode };

/** One line of a list at the side of a page, which opens what it names beside it. */
export function ListRow({ isOpen, open, className = "py-1.5", children }: Props) {
  return (
    <button
      type="button"
      aria-current={isOpen}
      onClick={open}
      className={`block w-full border-edge border-b px-3 text-left ${className} ${isOpen ? "bg-rust-wash" : ""}`}
    >
      {children}
    </button>
  );
}
