import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { api } from "../api/client";

type Props = { text: string; open: (name: string) => void };

/** Which applications and features a name, an address or a path is recognised as, and by what. */
export function Fits({ text, open }: Props) {
  const wanted = useDeferredValue(text.trim());
  // A word is looked for in names and descriptions; what looks like part of an address, in signatures.
  const isAddress = /[./]/.test(wanted) && wanted.length > 2;
  const found = useQuery({
    queryKey: ["signatures", wanted],
    queryFn: () => api.findSignatures(wanted),
    enabled: isAddress,
    placeholderData: (before) => before,
  });
  if (!isAddress || !found.data) return null;
  return (
    <section
      aria-label="What it is recognised as"
      className="max-h-[35%] overflow-auto border-edge border-b bg-paper px-3 py-2 text-xs"
    >
      {found.data.found.length === 0 && <p>Nothing is recognised by “{wanted}”.</p>}
      <ul>
        {found.data.found.map((one) => (
          <li key={`${one.application}/${one.feature ?? ""}`} className="py-0.5">
            <button type="button" className="font-medium underline" onClick={() => open(one.application)}>
              {one.application}
              {one.feature ? `/${one.feature}` : ""}
            </button>
            {one.own && <span className="text-dim"> your own</span>}{" "}
            {one.why.length > 0 ? (
              <span>fits: {one.why.join(", ")}</span>
            ) : (
              <span className="text-dim">has it in its signature</span>
            )}
            <span className="block font-mono text-dim">{one.signatures.join(" · ")}</span>
          </li>
        ))}
      </ul>
      {found.data.more > 0 && <p className="text-dim">… and {found.data.more} more</p>}
    </section>
  );
}
