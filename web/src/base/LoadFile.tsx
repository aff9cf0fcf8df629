import { useRef } from "react";
import { textOf } from "./textOf";

type Props = {
  label: string;
  /** What the file is, for who cannot see the button. */
  what: string;
  load: (name: string, text: string) => void;
  /** Which files are offered; CSV where nothing is said. */
  accept?: string;
};

/** A button that takes a file of text. */
export function LoadFile({ label, what, load, accept = ".csv,text/csv" }: Props) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className="press" onClick={() => file.current?.click()}>
        {label}
      </button>
      <input
        ref={file}
        type="file"
        accept={accept}
        aria-label={what}
        className="hidden"
        onChange={async (event) => {
          const chosen = event.target.files?.[0];
          // The same file may be chosen again once it is mended.
          event.target.value = "";
          if (chosen) load(chosen.name.replace(/\.csv$/i, ""), await textOf(chosen));
        }}
      />
    </>
  );
}
