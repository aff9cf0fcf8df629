/** For the ref of what somebody has just opened by a key or a click: they go on there. */
export const focusOnOpen = (element: HTMLElement | null): void => element?.focus();
