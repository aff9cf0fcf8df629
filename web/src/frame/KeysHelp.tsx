import { Dialog } from "radix-ui";

const KEYS: [string, string][] = [
  ["↑ ↓ or j k", "go up and down the rules"],
  ["Enter", "edit the rule, or fold the chapter"],
  ["n / N", "new rule below / above"],
  ["c", "clone the rule"],
  ["Alt ↑ / Alt ↓", "move the rule"],
  ["x", "switch the rule off or on"],
  ["Delete", "remove the rule"],
  ["f", "next finding"],
  ["p", "to the probe line"],
  ["Ctrl K", "everything by name"],
  ["Ctrl Z / Ctrl Shift Z", "undo / redo"],
  ["Ctrl Enter", "keep what is being edited"],
  ["Escape", "leave what is being edited, or select nothing"],
  ["?", "these keys"],
];

/** The keys of the bench. */
export function KeysHelp({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ground/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 w-[440px] -translate-x-1/2 rounded border border-edge bg-plate p-4 shadow-xl"
        >
          <Dialog.Title className="mb-2 font-semibold">Keys of the bench</Dialog.Title>
          <dl className="grid grid-cols-[150px_1fr] gap-y-1">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <span className="key">{key}</span>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
