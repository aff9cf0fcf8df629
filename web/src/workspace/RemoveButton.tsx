interface Props {
  /** Pressed once: what the removing does is being told. */
  told: boolean;
  /** Whether it is to be told. */
  tell: (told: boolean) => void;
  remove: () => void;
  /** What the second press says it removes; left out where the form's heading names it. */
  name?: string;
}

/** Removes in two presses, with a way back between them, so that nothing is removed before its impact has been shown. */
export function RemoveButton({ told, tell, remove, name }: Props) {
  return (
    <span className="ml-auto flex gap-2">
      {told && (
        <button type="button" className="press" onClick={() => tell(false)}>
          Leave it
        </button>
      )}
      <button
        type="button"
        className={`press ${told ? "press-main" : ""}`}
        onClick={told ? remove : () => tell(true)}
      >
        {told ? `Remove${name ? ` ${name}` : ""}, as told above` : "Remove"}
      </button>
    </span>
  );
}
