/** Where the keys go on once what had the focus is gone; nothing on a page without the stack. */
export function focusStack() {
  document.getElementById("stack")?.focus();
}
