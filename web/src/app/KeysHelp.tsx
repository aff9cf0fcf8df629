import { Dialog } from "radix-ui";
import { keysOf, type Where } from "../base/shortcuts";
import { TERMS } from "../base/terms";

type Props = {
  page: string;
  open: boolean;
  close: () => void;
  /** Whether keys that are a single character work. */
  single: boolean;
  setSingle: (on: boolean) => void;
};

/** The places whose keys work on a page: a rule is edited where it stands. */
const places = (page: string): Where[] => (page === "rulebase" ? ["rulebase", "editor"] : [page as Where]);

/** The keys of the place one is in, and those that work everywhere. */
export function KeysHelp({ page, open, close, single, setSingle }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ground/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 max-h-[80vh] w-[480px] max-w-[95vw] -translate-x-1/2 overflow-auto rounded border border-edge bg-plate p-4 shadow-xl"
        >
          <div className="mb-2 flex items-center justify-between">
            <Dialog.Title className="font-semibold">Keys here</Dialog.Title>
            <Dialog.Close className="press text-xs">Close</Dialog.Close>
          </div>
          <dl className="grid grid-cols-[150px_1fr] gap-y-1">
            {keysOf(...places(page), "everywhere").map((shortcut) => (
              <div key={shortcut.does} className="contents">
                <dt>
                  <span className="key">{shortcut.written}</span>
                </dt>
                <dd>{shortcut.does}</dd>
              </div>
            ))}
          </dl>
          <label className="mt-3 flex items-center gap-2">
            <input
              type="checkbox"
              checked={single}
              onChange={(event) => setSingle(event.target.checked)}
              className="accent-rust"
            />
            Keys that are a single character work
          </label>
          <h2 className="mt-3 mb-1 font-semibold">Words here</h2>
          <dl className="grid grid-cols-[80px_1fr] gap-y-1 text-xs">
            {Object.entries(TERMS).map(([word, meaning]) => (
              <div key={word} className="contents">
                <dt className="font-medium">{word}</dt>
                <dd>{meaning}</dd>
              </div>
            ))}
          </dl>
          <p className="mt-2 text-dim text-xs">Where a keyboard has ⌘, it does what Ctrl does.</p>
          <p className="mt-2 text-dim text-xs">
            Whose work this stands on, and on what terms:{" "}
            <a className="underline" href="/licences-server.txt" target="_blank" rel="noreferrer">
              the server
            </a>
            ,{" "}
            <a className="underline" href="/licences-pages.md" target="_blank" rel="noreferrer">
              the pages
            </a>
            .
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
