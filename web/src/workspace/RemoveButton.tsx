interface Props {
  /** Pressed once: what the removing does is being told. */
  told: boolean;
  tell: () => void;
  remove: () => void;
  /** What the second press says it removes; left out where the form's heading names it. */
  name?: string;
}

/** Removes in two presses, so that nothing is removed before its impact has been shown. */
export function RemoveButton({ told, tell, remove, name }: Props) {
  return (
    <button
      type="button"
      className={`press ml-auto ${told ? "press-main" : ""}`}
      onClick={told ? remove : tell}
    >
      {told ? `Remove${name ? ` ${name}` : ""}, as told above` : "Remove"}
    </button>
  );
}
