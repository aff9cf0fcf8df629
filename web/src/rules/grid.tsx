import type { ComponentProps } from "react";

/*
 * Rows and cells of the stack. It shows a part of its rows at a time and lays some of them out across
 * several columns, which a table cannot; the grid holds the keyboard and says which row is meant
 * (aria-activedescendant), so that rows and cells take no focus of their own.
 */

/** A row of the stack; a press is a shortcut for what the keys of the grid do. */
export function Row(props: ComponentProps<"div">) {
  // biome-ignore lint/a11y/useSemanticElements: see above
  // biome-ignore lint/a11y/useFocusableInteractive: see above
  return <div role="row" {...props} />;
}

/** A cell of a row. */
export function Cell(props: ComponentProps<"div">) {
  // biome-ignore lint/a11y/useSemanticElements: see above
  // biome-ignore lint/a11y/useFocusableInteractive: see above
  return <div role="gridcell" {...props} />;
}

/** The grid, which holds the keyboard. */
export function Grid(props: ComponentProps<"div">) {
  // biome-ignore lint/a11y/useSemanticElements: see above
  return <div role="grid" tabIndex={0} {...props} />;
}

/** All rows of the grid, those it does not show included. */
export function Rows(props: ComponentProps<"div">) {
  // biome-ignore lint/a11y/useSemanticElements: see above
  return <div role="rowgroup" {...props} />;
}

/** A part of a cell whose press does what a key of the grid does too. */
export function Pressable(props: ComponentProps<"div">) {
  return <div {...props} />;
}
