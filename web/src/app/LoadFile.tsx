import { useRef } from "react";

type Props = {
  label: string;
  /** What the file is, for who cannot see the button. */
  what: string;
  load: (name: string, text: string) => void;
};

/** A button that takes a CSV file. */
export function LoadFile({ label, what, load }: Props) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className="press" onClick={() => file.current?.click()}>
        {label}
      </button>
      <input
        ref={file}
        type="file"
        accept=".csv,text/csv"
        aria-label={what}
        className="hidden"
        onChange={async (event) => {
          const chosen = event.target.files?.[0];
          // The same file may be chosen again once it is mended.
          event.target.value = "";
          if (chosen) load(chosen.name.replace(/\.csv$/i, ""), await chosen.text());
        }}
      />
    </>
  );
}
